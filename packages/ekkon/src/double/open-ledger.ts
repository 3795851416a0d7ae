import { recordOf } from '../claim/claim.ts';
import type { Claim } from '../claim/count.ts';
import type { HeldMark } from '../claim/during.ts';
import { type CallPattern, entryFit, patternOf } from '../claim/pattern.ts';
import type { Stream } from '../claim/streams.ts';
import type { Verdict } from '../explain/finding.ts';
import { shortValue } from '../notation/value.ts';
import { platformClock } from '../record/clock.ts';
import type { Entry } from '../record/entry.ts';
import type { LedgerRecord, Level, RuleLevels } from '../record/ledger-record.ts';
import { makeOwn, printsAs } from '../record/prints-as.ts';
import { entryData, openRecord } from '../record/recording.ts';
import { refuse } from '../record/refuse.ts';
import { refuseClosed } from '../record/refuse-closed.ts';
import { type HeldReveal, revealOf } from '../record/revealed.ts';
import { tie, tied } from '../record/tie.ts';
import { noteUsed } from '../record/written.ts';
import { ClaimError } from '../report/claim-error.ts';
import { readClaim } from '../report/verdict.ts';
import { readRules, usualRules } from '../rule/rules.ts';
import { untilQuiet } from '../wait/until-quiet.ts';
import { closeRecord } from './close.ts';
import { makeConstructible } from './constructible.ts';
import { followSource } from './follow.ts';
import type { DoubleOptions, Ledger, LedgerOptions } from './ledger.ts';
import { makeMember, unusedName } from './make-member.ts';
import { name, recordedFunction } from './recorded.ts';
import { replaceMember, type Way } from './replace.ts';
import { readSource } from './source.ts';
import { addFake, makeStandIn, namesMember } from './stand-in.ts';

/** How many call sites a ledger captures unless told otherwise. */
const usualCallSites = 256;

type Below = (...args: never[]) => unknown;

/**
 * Opens a ledger: the ordered record of one test, and the maker of its doubles.
 *
 * @param options `name` stands in every report; `rules` says how strict the ledger is; `callSites` is how
 * many call sites are captured before it goes on without (0: none; default 256), and how many places at
 * which claims and plans are written; `clock` tells the time of waits; `reveals` says how to look into
 * instances of classes that hide their state
 * @throws TypeError where an option is not what it should be
 * @example
 * const ledger = openLedger({ name: 'rain closes the dome' });
 * const dome = ledger.standIn<Dome>('dome');
 */
export function openLedger(options: LedgerOptions = {}): Ledger {
  const { name = 'unnamed', callSites = usualCallSites, reveals = [] } = options;
  const { clock = platformClock } = options;
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
  if (typeof clock?.now !== 'function' || typeof clock.after !== 'function') {
    refuse(
      'openLedger: clock is { now, after }: now() gives milliseconds, and after(ms, run) calls run later and gives what cancels that.',
      openLedger,
    );
  }
  if (!Array.isArray(reveals)) {
    refuse(`openLedger: reveals is a list, and was given ${shortValue(reveals)}.`, openLedger);
  }
  const rules = readRules(options.rules, usualRules, openLedger);
  return makeLedger(
    openRecord({ name, callSites, reveals: reveals.map(heldReveal), rules, clock }),
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

function makeLedger(record: LedgerRecord): Ledger {
  const rulesFor = (options: DoubleOptions | undefined, below: Below) =>
    readRules(options?.rules, record.rules, below);

  /** Holds a double to rules of its own, and says what it does with calls that no plan fits. */
  function rule(double: string, rules: RuleLevels): Level {
    if (rules !== record.rules) record.ruled.push({ double, rules });
    return rules.unplannedCall;
  }

  /** The four ways to replace a member differ in what the real one does, and in their types. */
  function replacing(called: string, way: Way): never {
    const replace = (target: object, key: PropertyKey, options?: DoubleOptions): unknown =>
      replaceMember(
        record,
        target,
        key,
        way,
        (label) => rule(label, rulesFor(options, replace)),
        replace,
      );
    name(replace, called);
    return replace as never;
  }

  const ledger: Ledger = {
    name: record.name,
    standIn<T extends object>(name: string, given?: unknown, options?: DoubleOptions): T {
      const below = ledger.standIn;
      const rules = rulesFor(options, below);
      const label = newName(record, name, below);
      if (typeof given === 'function' && typeof given.prototype === 'object') {
        const whenUnplanned = rule(label, rules);
        return makeStandIn(record, label, { shape: given as never, whenUnplanned }) as T;
      }
      if (given !== undefined && (typeof given !== 'object' || given === null)) {
        refuse(
          `standIn(${shortValue(name)}, …) takes a class or a partial fake, and was given ${shortValue(given)}.`,
          below,
        );
      }
      const standIn = makeStandIn(record, label, { whenUnplanned: rule(label, rules) });
      if (given !== undefined) addFake(standIn, given);
      return standIn as T;
    },
    standIns<T extends object>(options?: DoubleOptions): T {
      const rules = rulesFor(options, ledger.standIns);
      const made = new Map<string, object>();
      return new Proxy(Object.create(null), {
        get(_, key) {
          if (!namesMember(key)) return undefined;
          const known = made.get(key);
          if (known !== undefined) return known;
          const label = unusedName(record, key);
          const standIn = makeStandIn(record, label, { whenUnplanned: rule(label, rules) });
          made.set(key, standIn);
          return standIn;
        },
      });
    },
    callable<F>(name: string, options?: DoubleOptions): F {
      const rules = rulesFor(options, ledger.callable);
      const label = newName(record, name, ledger.callable);
      const whenUnplanned = rule(label, rules);
      const member = makeMember(record, { label, double: label, whenUnplanned });
      return recordedFunction(member, name, `[callable ${label}]`) as F;
    },
    constructible<C>(name: string, shape?: unknown, options?: DoubleOptions): C {
      const below = ledger.constructible;
      const rules = rulesFor(options, below);
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
      return makeConstructible(record, label, shape as never, rule(label, rules)) as C;
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
      noteUsed(record, held);
      for (const { id } of fitting) record.lookedAt.add(id);
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
    follow<T>(source: unknown, name: string, on?: { readonly event: string }): Stream<T> {
      const below = ledger.follow;
      refuseClosed(record, 'follow()', below);
      const kind = readSource(source, on, below);
      return followSource(record, newName(record, name, below), kind, below) as Stream<T>;
    },
    atClose(...claims: Claim[]) {
      refuseClosed(record, 'atClose()', ledger.atClose);
      if (claims.length === 0) {
        refuse(
          'atClose() was given no claim. Write ledger.atClose(once(call(dome.close))).',
          ledger.atClose,
        );
      }
      const held = claims.map((claim) => readClaim(claim, ledger.atClose));
      const stranger = held.map(recordOf).find((other) => other !== record);
      if (stranger !== undefined) {
        refuse(
          `atClose() of ledger "${record.name}" was given a claim on ledger "${stranger.name}". Each ledger judges its own.`,
          ledger.atClose,
        );
      }
      record.standing.push(...held);
    },
    untilQuiet: (options) => untilQuiet(record, options?.within, ledger.untilQuiet),
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
export function closeLedger(ledger: Ledger, bodyFailed: boolean): Verdict {
  const held = tied(ledger);
  if (held === undefined) throw new TypeError('this is no ledger');
  return closeRecord(held.record, bodyFailed);
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
