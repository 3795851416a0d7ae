import type { Verdict } from '../explain/finding.ts';
import { nearEntry } from '../explain/nearest.ts';
import { shortValue } from '../notation/value.ts';
import { asPattern, bothNames } from '../pattern/as-pattern.ts';
import { callsOf, eventOf, journalOf, targetOf } from '../pattern/event.ts';
import { eventFit } from '../pattern/fit.ts';
import type { Stream } from '../pattern/streams.ts';
import type { EntryPattern } from '../pattern/types.ts';
import type { Claim } from '../record/claim-type.ts';
import { platformClock } from '../record/clock.ts';
import type { DoubleKind } from '../record/double-names.ts';
import type { Entry } from '../record/entry.ts';
import { type HeldEntry, type Journal, openJournal, placeMark } from '../record/journal.ts';
import { makeMark } from '../record/mark.ts';
import { type Level, type Names, newMember } from '../record/member.ts';
import { refuseClosed } from '../record/refuse-closed.ts';
import { shownEntry } from '../record/shown-entry.ts';
import { targetAt } from '../record/target.ts';
import { tie, tied } from '../record/tie.ts';
import { ClaimError } from '../report/claim-error.ts';
import { printUndecided } from '../report/difference-words.ts';
import { named } from '../report/words.ts';
import {
  holdDouble,
  judgementsOn,
  levelsFor,
  noteAssertions,
  noteLookedAt,
  openJudgements,
} from '../rule/judgements.ts';
import { levelsIn, type RuleLevels, readRules } from '../rule/rules.ts';
import { printsAs } from '../value/prints-as.ts';
import { readOptions } from '../value/read-options.ts';
import { refuse } from '../value/refuse.ts';
import { type HeldReveal, revealOf } from '../value/revealed.ts';
import { takesOnly } from '../value/takes-only.ts';
import { asClaim } from '../wait/as-claim.ts';
import { untilQuiet } from '../wait/until-quiet.ts';
import { noteStanding } from '../wait/waits.ts';
import { closeJournal } from './close.ts';
import { makeConstructible } from './constructible.ts';
import { unusedName } from './doubles.ts';
import { addFake } from './fake.ts';
import { followSource } from './follow.ts';
import type {
  DoubleOptions,
  Ledger,
  LedgerOptions,
  StandInOptions,
  TargetOptions,
} from './ledger.ts';
import { name, recordedFunction } from './recorded.ts';
import { replaceMember } from './replace.ts';
import { readSource } from './source.ts';
import { makeStandIn, memberPrototype, namesMember } from './stand-in.ts';
import type { Way } from './way.ts';

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
 * @throws TypeError if an option is invalid, or if there is no such option
 * @example
 * const ledger = openLedger({ name: 'rain closes the dome' });
 * const dome = ledger.standIn<Dome>('dome');
 */
export function openLedger(options: LedgerOptions = {}): Ledger {
  readOptions(options, ['name', 'rules', 'callSites', 'clock', 'reveals'], openLedger);
  const { name = 'unnamed', callSites = usualCallSites, reveals = [] } = options;
  const { clock = platformClock } = options;
  if (typeof name !== 'string' || name === '') {
    refuse(
      `openLedger: name must be a string that is not empty, not ${shortValue(name)}. Write openLedger({ name: 'first light' }).`,
      openLedger,
    );
  }
  if (!(Number.isInteger(callSites) && callSites >= 0) && callSites !== Number.POSITIVE_INFINITY) {
    refuse(
      `openLedger: callSites must be a whole number of 0 or more, not ${shortValue(callSites)}.`,
      openLedger,
    );
  }
  if (typeof clock?.now !== 'function' || typeof clock.after !== 'function') {
    refuse(
      'openLedger: clock must be { now, after }: now() gives milliseconds, and after(ms, run) calls run later and gives what cancels that.',
      openLedger,
    );
  }
  if (!Array.isArray(reveals)) {
    refuse(`openLedger: reveals must be a list, not ${shortValue(reveals)}.`, openLedger);
  }
  const levels = readRules(options.rules, levelsIn('usual'), openLedger);
  const journal = openJournal({ name, callSites, reveals: reveals.map(heldReveal), clock });
  openJudgements(journal, levels);
  return makeLedger(journal);
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

/** What `takeOver` takes beside what every replacing does. */
interface Absent {
  readonly absent?: boolean;
}

function makeLedger(journal: Journal): Ledger {
  function rulesFor(
    options: DoubleOptions | undefined,
    below: Below,
    known: readonly string[] = ['rules'],
  ): RuleLevels {
    readOptions(options, known, below);
    return readRules(options?.rules, judgementsOn(journal).levels, below);
  }

  /** Holds a double to rules of its own, and says what it does with calls that no plan fits. */
  function rule(double: string, rules: RuleLevels): Level {
    holdDouble(journal, double, rules);
    return rules.unplannedCall;
  }

  /** The members that a stand-in is said to have, if any are named. */
  function namesFor(
    options: Readonly<Record<'members' | 'also', unknown>> | undefined,
    below: Below,
  ): Names | undefined {
    const [members, also] = (['members', 'also'] as const).map((option) => {
      const given: unknown = options?.[option];
      if (given === undefined) return undefined;
      if (Array.isArray(given) && given.every((each) => typeof each === 'string'))
        return new Set<string>(given);
      return refuse(
        `standIn(): ${option} must be a list of names, not ${shortValue(given)}. Write { ${option}: ['read'] }.`,
        below,
      );
    });
    return members === undefined && also === undefined ? undefined : { members, also };
  }

  /** The four ways to replace a member differ in what the real one does, and in their types. */
  function replacing(called: string, way: Way): never {
    const replace = (
      target: object,
      key: PropertyKey,
      options?: TargetOptions & Absent,
    ): unknown => {
      const known = way === 'takeOver' ? ['rules', 'name', 'absent'] : ['rules', 'name'];
      const rules = rulesFor(options, replace, known);
      const called = options?.name;
      if (called !== undefined && (typeof called !== 'string' || called === '')) {
        refuse(
          `${replace.name}: name must be a string that is not empty, not ${shortValue(called)}. Write { name: 'quayClient' }.`,
          replace,
        );
      }
      return replaceMember(
        journal,
        target,
        key,
        way,
        called,
        (double) =>
          options?.rules === undefined
            ? levelsFor(journal, double).unplannedCall
            : rule(double, rules),
        options?.absent === true,
        replace,
      );
    };
    name(replace, called);
    return replace as never;
  }

  const ledger: Ledger = {
    name: journal.name,
    standIn<T extends object>(name: string, given?: unknown, options?: StandInOptions<T>): T {
      const below = ledger.standIn;
      const rules = rulesFor(options, below, ['rules', 'members', 'also']);
      const names = namesFor(options as never, below);
      const label = newName(journal, name, 'stand-in', below);
      if (typeof given === 'function' && typeof given.prototype === 'object') {
        const whenUnplanned = rule(label, rules);
        return makeStandIn(journal, label, { shape: given as never, whenUnplanned, names }) as T;
      }
      if (given !== undefined && (typeof given !== 'object' || given === null)) {
        refuse(
          `standIn(${shortValue(name)}, …) takes a class or a partial fake, and was given ${shortValue(given)}.`,
          below,
        );
      }
      const standIn = makeStandIn(journal, label, { whenUnplanned: rule(label, rules), names });
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
          const label = unusedName(journal, key, 'stand-in');
          const standIn = makeStandIn(journal, label, { whenUnplanned: rule(label, rules) });
          made.set(key, standIn);
          return standIn;
        },
        ownKeys: () =>
          refuse(
            'standIns() has a member for whatever is asked for, so that nothing lists them. Destructure it: const { dome, mount } = ledger.standIns<Devices>().',
            ledger.standIns,
          ),
      });
    },
    callable<F>(name: string, options?: DoubleOptions): F {
      const rules = rulesFor(options, ledger.callable);
      const label = newName(journal, name, 'callable', ledger.callable);
      const whenUnplanned = rule(label, rules);
      const member = newMember(journal, targetAt(journal, label, []), { whenUnplanned });
      const made = recordedFunction(member, name, `[callable ${label}]`);
      return Object.setPrototypeOf(made, memberPrototype);
    },
    constructible<C>(name: string, shape?: unknown, options?: DoubleOptions): C {
      const below = ledger.constructible;
      const rules = rulesFor(options, below);
      const label = newName(journal, name, 'constructible', below);
      if (
        shape !== undefined &&
        (typeof shape !== 'function' || typeof shape.prototype !== 'object')
      ) {
        refuse(
          `constructible(${shortValue(name)}, …) takes a class, and was given ${shortValue(shape)}.`,
          below,
        );
      }
      return makeConstructible(journal, label, shape as never, rule(label, rules)) as C;
    },
    observe: replacing('observe', 'observe'),
    takeOver: replacing('takeOver', 'takeOver'),
    observeHidden: replacing('observeHidden', 'observe'),
    takeOverHidden: replacing('takeOverHidden', 'takeOver'),
    entries<A extends readonly unknown[], R>(pattern?: EntryPattern<A, R>): readonly Entry<A, R>[] {
      takesOnly(1, arguments, ledger.entries);
      const found =
        pattern === undefined ? journal.entries : lookAt(journal, pattern, ledger.entries);
      return found.map((entry) => shownBy(pattern, entry)) as Entry<A, R>[];
    },
    mark(label?: string) {
      if (label !== undefined && typeof label !== 'string') {
        refuse(
          `mark(): a label must be a string, not ${shortValue(label)}. Write ledger.mark('dusk').`,
          ledger.mark,
        );
      }
      return placeMark(journal, (tick) => makeMark(journal, tick, label));
    },
    follow<T>(source: unknown, name: string, on?: { readonly event: string }): Stream<T> {
      const below = ledger.follow;
      refuseClosed(journal, 'follow()', below);
      const kind = readSource(source, on, below);
      return followSource(
        journal,
        newName(journal, name, 'stream', below),
        kind,
        below,
      ) as Stream<T>;
    },
    atClose(...claims: Claim[]) {
      refuseClosed(journal, 'atClose()', ledger.atClose);
      if (claims.length === 0) {
        refuse(
          'atClose() was given no claim. Write ledger.atClose(once(call(dome.close))).',
          ledger.atClose,
        );
      }
      const held = claims.map((claim) => asClaim(claim, ledger.atClose));
      const stranger = held.find((claim) => claim.journal !== journal)?.journal;
      if (stranger !== undefined) {
        refuse(
          `atClose() was given a claim on another ledger: ${bothNames(journal, stranger)}. Each ledger judges its own claims.`,
          ledger.atClose,
        );
      }
      noteStanding(journal, held);
    },
    async untilQuiet(options) {
      readOptions(options, ['within'], ledger.untilQuiet);
      await untilQuiet(journal, options?.within, ledger.untilQuiet);
    },
    close() {
      const verdict = closeJournal(journal, undefined);
      if (verdict.holds || judgementsOn(journal).failed) return;
      const error = new ClaimError(verdict);
      Error.captureStackTrace?.(error, ledger.close);
      throw error;
    },
    [Symbol.dispose]() {
      ledger.close();
    },
  };
  tie(ledger, { is: 'ledger', journal });
  return Object.freeze(ledger);
}

/** An entry as plain data; its arguments as a pattern sees them. */
function shownBy(pattern: unknown, entry: HeldEntry): Entry {
  const event = eventOf(pattern);
  const lens = event === undefined ? undefined : callsOf(event).lens;
  const shown = shownEntry(entry);
  return lens === undefined ? shown : { ...shown, args: lens.show(entry) };
}

/** The entries that surely fit a pattern; they are looked at by that. */
function lookAt(journal: Journal, pattern: unknown, below: Below): readonly HeldEntry[] {
  const event = asPattern(pattern, 'entries(call(dome.open))', below);
  if (journalOf(event) !== journal) {
    refuse(
      `entries() was given a pattern on ${targetOf(event).label} of another ledger: ${bothNames(journal, journalOf(event))}.`,
      below,
    );
  }
  const fits = journal.entries.map((entry) => ({ entry, fit: eventFit(event, entry) }));
  const undecided = fits.find(({ fit }) => fit === 'undecided')?.entry;
  if (undecided !== undefined) {
    const { entry, differences } = nearEntry(event, undecided);
    const why = differences.find(({ kind }) => kind === 'opaque') ?? differences[0];
    refuse(
      `entries(${event[printsAs]}): it is not known whether ${named(entry)} fits${why === undefined ? '' : `: ${printUndecided(why)}`}.`,
      below,
    );
  }
  const fitting = fits.flatMap(({ entry, fit }) => (fit === 'fits' ? [entry] : []));
  for (const { id } of fitting) noteLookedAt(journal, id);
  return fitting;
}

/** What is known of a test's body that has ended. */
export interface BodyEnd {
  /** How many assertions the runner counted, if it counts them. */
  readonly assertions?: number | undefined;
  /** What it threw. */
  readonly reason?: unknown;
}

/**
 * Closes a ledger and gives what was found, for those who tell it themselves.
 *
 * @param passed whether the test's body has passed
 */
export function closeLedger(
  ledger: Ledger,
  passed: boolean,
  { assertions, reason }: BodyEnd = {},
): Verdict {
  const held = tied(ledger);
  if (held === undefined) throw new TypeError('this is not a ledger');
  if (assertions !== undefined) noteAssertions(held.journal, assertions);
  return closeJournal(held.journal, passed, reason);
}

/** The name a double goes by. */
function newName(journal: Journal, name: string, kind: DoubleKind, below: Below): string {
  if (typeof name !== 'string' || name === '') {
    refuse(
      `${below.name}() takes the double's name, and was given ${shortValue(name)}. Write ${below.name}('dome').`,
      below,
    );
  }
  return unusedName(journal, name, kind);
}
