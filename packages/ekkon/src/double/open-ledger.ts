import { type CallPattern, entryFit, patternOf } from '../claim/pattern.ts';
import { shortValue } from '../notation/value.ts';
import type { HeldPlan } from '../plan/plan.ts';
import type { Entry } from '../record/entry.ts';
import type { LedgerRecord, Member } from '../record/ledger-record.ts';
import { entryData, openRecord } from '../record/recording.ts';
import { refuse } from '../record/refuse.ts';
import { type HeldReveal, revealOf } from '../record/revealed.ts';
import { tie } from '../record/tie.ts';
import type { Ledger, LedgerOptions } from './ledger.ts';
import { recordedFunction } from './recorded.ts';
import { makeStandIn, namesMember } from './stand-in.ts';

/** How many call sites a ledger captures unless told otherwise. */
const usualCallSites = 256;

/**
 * Opens a ledger: the ordered record of one test, and the maker of its doubles.
 *
 * @param options `name` stands in every report; `callSites` is how many call sites are captured before
 * the ledger goes on without (0: none; default 256); `reveals` says how to look into instances of
 * classes that hide their state
 * @throws TypeError where an option is not what it should be
 * @example
 * const ledger = openLedger({ name: 'rain closes the dome' });
 * const dome = ledger.standIn<Dome>('dome');
 */
export function openLedger(options: LedgerOptions = {}): Ledger {
  const { name = 'unnamed', callSites = usualCallSites, reveals = [] } = options;
  if (typeof name !== 'string' || name === '') {
    refuse(
      `openLedger: name is a text, and was given ${shortValue(name)}. Write openLedger({ name: 'first light' }).`,
      openLedger,
    );
  }
  if (!(Number.isInteger(callSites) && callSites >= 0) && callSites !== Number.POSITIVE_INFINITY) {
    refuse(
      `openLedger: callSites is a whole number from 0 on, and was given ${shortValue(callSites)}.`,
      openLedger,
    );
  }
  return makeLedger(openRecord(name, callSites, reveals.map(heldReveal)));
}

function heldReveal(value: unknown): HeldReveal {
  const held = revealOf(value);
  if (held === undefined) {
    refuse(
      `openLedger: reveals are made by reveal(), and one given is ${shortValue(value)}. Write openLedger({ reveals: [reveal(Gauge, (gauge) => gauge.value())] }).`,
      openLedger,
    );
  }
  return held;
}

function makeLedger(record: LedgerRecord): Ledger {
  const ledger: Ledger = {
    name: record.name,
    standIn<T extends object>(name: string): T {
      return makeStandIn(record, newName(record, name, ledger.standIn)) as T;
    },
    standIns<T extends object>(): T {
      const made = new Map<string, object>();
      return new Proxy(Object.create(null), {
        get(_, key) {
          if (!namesMember(key)) return undefined;
          const standIn =
            made.get(key) ?? makeStandIn(record, newName(record, key, ledger.standIns));
          made.set(key, standIn);
          return standIn;
        },
      });
    },
    callable<F>(name: string): F {
      const label = newName(record, name, ledger.callable);
      const member: Member<HeldPlan> = { is: 'member', record, label, double: label, plans: [] };
      record.members.push(member);
      return recordedFunction(member, name, `[callable ${label}]`) as F;
    },
    entries<A extends readonly unknown[], R>(pattern?: CallPattern<A, R>): readonly Entry<A, R>[] {
      if (pattern === undefined) return record.entries.map(entryData) as Entry<A, R>[];
      const held = patternOf(pattern);
      if (held === undefined) {
        refuse(
          `entries() takes a pattern, and was given ${shortValue(pattern)}. Write entries(call(dome.open)).`,
          ledger.entries,
        );
      }
      if (held.member.record !== record) {
        refuse(
          `entries() of ledger "${record.name}" was given a pattern on ${held.member.label}, which ledger "${held.member.record.name}" records.`,
          ledger.entries,
        );
      }
      return record.entries
        .filter((entry) => entryFit(held, entry) === 'fits')
        .map(entryData) as Entry<A, R>[];
    },
  };
  tie(ledger, { is: 'ledger', record });
  return Object.freeze(ledger);
}

/** The name a double goes by: a second one of the same name is told apart by a number. */
function newName(record: LedgerRecord, name: string, below: (...args: never[]) => unknown): string {
  if (typeof name !== 'string' || name === '') {
    refuse(
      `${below.name}() takes the double's name, and was given ${shortValue(name)}. Write ${below.name}('dome').`,
      below,
    );
  }
  const before = record.names.get(name) ?? 0;
  record.names.set(name, before + 1);
  return before === 0 ? name : `${name}~${before + 1}`;
}
