import { type CallPattern, entryFits, patternOf } from '../claim/pattern.ts';
import { shortValue } from '../notation/value.ts';
import type { HeldPlan } from '../plan/plan.ts';
import type { Entry } from '../record/entry.ts';
import { type Member, tie } from '../record/member.ts';
import { entryData, openRecord, type Record } from '../record/record.ts';
import { refuse } from '../record/refuse.ts';
import type { Ledger, LedgerOptions } from './ledger.ts';
import { recordedFunction } from './recorded.ts';
import { makeStandIn, namesMember } from './stand-in.ts';

/** How many call sites a ledger captures unless told otherwise. */
const usualCallSites = 256;

/**
 * Opens a ledger: the ordered record of one test, and the maker of its doubles.
 *
 * @param options `name` stands in every report; `callSites` is how many call sites are captured before
 * the ledger goes on without (0: none; default 256)
 * @throws TypeError where an option is not what it should be
 * @example
 * const ledger = openLedger({ name: 'rain closes the dome' });
 * const dome = ledger.standIn<Dome>('dome');
 */
export function openLedger(options: LedgerOptions = {}): Ledger {
  const { name = 'unnamed', callSites = usualCallSites } = options;
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
  return makeLedger(openRecord(name, callSites));
}

function makeLedger(record: Record): Ledger {
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
      return record.entries.filter((entry) => entryFits(held, entry)).map(entryData) as Entry<
        A,
        R
      >[];
    },
  };
  tie(ledger, { is: 'ledger', record });
  return Object.freeze(ledger);
}

/** The name a double goes by: a second one of the same name is told apart by a number. */
function newName(record: Record, name: string, below: (...args: never[]) => unknown): string {
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
