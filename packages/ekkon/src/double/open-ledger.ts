import type { HeldMark } from '../claim/during.ts';
import { type CallPattern, entryFit, patternOf } from '../claim/pattern.ts';
import type { Verdict } from '../explain/finding.ts';
import { shortValue } from '../notation/value.ts';
import type { Entry } from '../record/entry.ts';
import type { LedgerRecord } from '../record/ledger-record.ts';
import { makeOwn, printsAs } from '../record/prints-as.ts';
import { entryData, openRecord } from '../record/recording.ts';
import { refuse } from '../record/refuse.ts';
import { type HeldReveal, revealOf } from '../record/revealed.ts';
import { tie, tied } from '../record/tie.ts';
import { ClaimError } from '../report/claim-error.ts';
import { type ResolvedRules, readRules, usualRules } from '../rule/rules.ts';
import { closeRecord } from './close.ts';
import { makeConstructible } from './constructible.ts';
import type { DoubleOptions, Ledger, LedgerOptions } from './ledger.ts';
import { makeMember, unusedName } from './make-member.ts';
import { name, recordedFunction } from './recorded.ts';
import { replaceMember, type Way } from './replace.ts';
import { addFake, makeStandIn, namesMember } from './stand-in.ts';

/** How many call sites a ledger captures unless told otherwise. */
const usualCallSites = 256;

type Below = (...args: never[]) => unknown;

/**
 * Opens a ledger: the ordered record of one test, and the maker of its doubles.
 *
 * @param options `name` stands in every report; `rules` says how strict the ledger is; `callSites` is how
 * many call sites are captured before it goes on without (0: none; default 256); `reveals` says how to
 * look into instances of classes that hide their state
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
  const rules = readRules(options.rules, usualRules, openLedger);
  return makeLedger(
    openRecord(name, callSites, reveals.map(heldReveal), rules.vacuousClaim),
    rules,
  );
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

function makeLedger(record: LedgerRecord, rules: ResolvedRules): Ledger {
  const whenUnplanned = (options: DoubleOptions | undefined, below: Below) =>
    readRules(options?.rules, rules, below).unplannedCall;

  /** The four ways to replace a member differ in what the real one does, and in their types. */
  function replacing(called: string, way: Way): never {
    const replace = (target: object, key: PropertyKey, options?: DoubleOptions): unknown =>
      replaceMember(record, target, key, way, whenUnplanned(options, replace), replace);
    name(replace, called);
    return replace as never;
  }

  const ledger: Ledger = {
    name: record.name,
    standIn<T extends object>(name: string, given?: unknown, options?: DoubleOptions): T {
      const below = ledger.standIn;
      const level = whenUnplanned(options, below);
      const label = newName(record, name, below);
      if (typeof given === 'function' && typeof given.prototype === 'object') {
        return makeStandIn(record, label, { shape: given as never, whenUnplanned: level }) as T;
      }
      if (given !== undefined && (typeof given !== 'object' || given === null)) {
        refuse(
          `standIn(${shortValue(name)}, …) takes a class or a partial fake, and was given ${shortValue(given)}.`,
          below,
        );
      }
      const standIn = makeStandIn(record, label, { whenUnplanned: level });
      if (given !== undefined) addFake(standIn, given);
      return standIn as T;
    },
    standIns<T extends object>(options?: DoubleOptions): T {
      const level = whenUnplanned(options, ledger.standIns);
      const made = new Map<string, object>();
      return new Proxy(Object.create(null), {
        get(_, key) {
          if (!namesMember(key)) return undefined;
          const known = made.get(key);
          if (known !== undefined) return known;
          const standIn = makeStandIn(record, unusedName(record, key), { whenUnplanned: level });
          made.set(key, standIn);
          return standIn;
        },
      });
    },
    callable<F>(name: string, options?: DoubleOptions): F {
      const level = whenUnplanned(options, ledger.callable);
      const label = newName(record, name, ledger.callable);
      const member = makeMember(record, { label, double: label, whenUnplanned: level });
      return recordedFunction(member, name, `[callable ${label}]`) as F;
    },
    constructible<C>(name: string, shape?: unknown, options?: DoubleOptions): C {
      const below = ledger.constructible;
      const label = newName(record, name, below);
      if (
        shape !== undefined &&
        (typeof shape !== 'function' || typeof shape.prototype !== 'object')
      ) {
        refuse(
          `constructible(${shortValue(name)}, …) takes a class, and was given ${shortValue(shape)}.`,
          below,
        );
      }
      return makeConstructible(record, label, shape as never, whenUnplanned(options, below)) as C;
    },
    observe: replacing('observe', 'observe'),
    takeOver: replacing('takeOver', 'takeOver'),
    observeHidden: replacing('observeHidden', 'observe'),
    takeOverHidden: replacing('takeOverHidden', 'takeOver'),
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
      const fitting = record.entries.filter((entry) => entryFit(held, entry) === 'fits');
      for (const { id } of fitting) record.accounted.add(id);
      return fitting.map(entryData) as Entry<A, R>[];
    },
    mark(label = 'mark') {
      const mark: HeldMark = {
        tick: ++record.tick,
        record,
        [printsAs]: `mark ${shortValue(label)}`,
      };
      return makeOwn(mark);
    },
    close() {
      const verdict = closeRecord(record);
      if (verdict.holds || record.failed) return;
      const error = new ClaimError(verdict);
      Error.captureStackTrace?.(error, ledger.close);
      throw error;
    },
    [Symbol.dispose]() {
      ledger.close();
    },
  };
  tie(ledger, { is: 'ledger', record });
  return Object.freeze(ledger);
}

/** Closes a ledger and gives what was found, for those who tell it themselves. */
export function closeLedger(ledger: Ledger): Verdict {
  const held = tied(ledger);
  if (held === undefined) throw new TypeError('this is no ledger');
  return closeRecord(held.record);
}

/** The name a double goes by. */
function newName(record: LedgerRecord, name: string, below: Below): string {
  if (typeof name !== 'string' || name === '') {
    refuse(
      `${below.name}() takes the double's name, and was given ${shortValue(name)}. Write ${below.name}('dome').`,
      below,
    );
  }
  return unusedName(record, name);
}
