import type { Verdict } from '../explain/finding.ts';
import { shortValue } from '../notation/value.ts';
import { followSource } from '../observe/follow.ts';
import { placeValue } from '../observe/place-value.ts';
import { readSource } from '../observe/source.ts';
import { bothNames } from '../pattern/as-pattern.ts';
import type { Stream } from '../pattern/streams.ts';
import type { EntryPattern } from '../pattern/types.ts';
import { leadToSource } from '../record/call-site.ts';
import type { Claim } from '../record/claim-type.ts';
import { platformClock } from '../record/clock.ts';
import type { Entry } from '../record/entry.ts';
import { type Journal, openJournal, placeMark } from '../record/journal.ts';
import { makeMark } from '../record/mark.ts';
import { refuseClosed } from '../record/refuse-closed.ts';
import { tie, tied } from '../record/tie.ts';
import { ClaimError } from '../report/claim-error.ts';
import { judgementsOn, noteAssertions, openJudgements } from '../rule/judgements.ts';
import { levelsIn, type RuleLevels, readRules } from '../rule/rules.ts';
import { beginAt } from '../value/call-stack.ts';
import { readOptions } from '../value/read-options.ts';
import { refuse } from '../value/refuse.ts';
import { type HeldReveal, revealOf } from '../value/revealed.ts';
import { takesOnly } from '../value/takes-only.ts';
import { asClaim } from '../wait/as-claim.ts';
import { untilQuiet } from '../wait/until-quiet.ts';
import { noteStanding } from '../wait/waits.ts';
import { closeJournal, endStreams } from './close.ts';
import { newName } from './double-options.ts';
import type { Ledger, LedgerOptions } from './ledger.ts';
import { lookAt, shownBy } from './look-at.ts';
import { makersOf } from './makers.ts';
import { placeInSource } from './page-source.ts';
import { replacing } from './replacing.ts';
import { setting } from './setting.ts';
import { tellNotes } from './tell-notes.ts';

/** How many call sites a ledger captures unless told otherwise. */
const usualCallSites = 256;

/**
 * Opens a ledger: the ordered record of one test, and the maker of its doubles.
 *
 * @param options `name` is in every report; `rules` says how strict the ledger is; `callSites` is how
 * many call sites are captured, and how many places at which claims and plans are written (0: none; default 256); `clock` tells the time of waits; `reveals` says how to look into
 * instances of classes that hide their state
 * @throws TypeError if an option is invalid, or if there is no such option
 * @example
 * const ledger = openLedger({ name: 'rain closes the dome' });
 * const dome = ledger.standIn<Dome>('dome');
 */
export function openLedger(options: LedgerOptions = {}): Ledger {
  if (typeof options === 'object' && options !== null && 'lastPass' in options) {
    refuse(
      "openLedger(): lastPass is for the fixtures of ekkon/vitest and ekkon/node and for withLedger(), which know whether the test passed. Write withLedger({ name: 'first light', lastPass: '.ekkon/last-pass' }, (ledger) => { … }).",
      openLedger,
    );
  }
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
      'openLedger: clock must be { now, after }: now() returns milliseconds, and after(ms, run) calls run later and returns a function that cancels it.',
      openLedger,
    );
  }
  if (!Array.isArray(reveals)) {
    refuse(`openLedger: reveals must be a list, not ${shortValue(reveals)}.`, openLedger);
  }
  const levels = readRules(options.rules, usualLevels(), openLedger);
  // Engines lead stacks back to sources by themselves, or not at all: browsers.
  if (typeof XMLHttpRequest === 'function') leadToSource(placeInSource);
  const journal = openJournal({ name, callSites, reveals: reveals.map(heldReveal), clock });
  openJudgements(journal, levels);
  return makeLedger(journal);
}

/** The levels of a ledger without rules of its own: those of the whole project. */
function usualLevels(): RuleLevels {
  const asked = setting('EKKON_RULES');
  if (asked === undefined) return levelsIn('usual');
  try {
    return readRules(asked, levelsIn('usual'), openLedger);
  } catch {
    refuse(
      `EKKON_RULES=${asked}: there is no such set of rules. Set it to loose, usual, careful or strict.`,
      openLedger,
    );
  }
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

function makeLedger(journal: Journal): Ledger {
  const ledger: Ledger = {
    name: journal.name,
    ...makersOf(journal),
    observe: replacing(journal, 'observe', 'observe'),
    takeOver: replacing(journal, 'takeOver', 'takeOver'),
    place<V>(target: object, key: PropertyKey, value: V): V {
      takesOnly(3, arguments, ledger.place);
      placeValue(journal, target, key, value, ledger.place);
      return value;
    },
    observeHidden: replacing(journal, 'observeHidden', 'observe'),
    takeOverHidden: replacing(journal, 'takeOverHidden', 'takeOver'),
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
      beginAt(error, ledger.close);
      throw error;
    },
    [Symbol.dispose]() {
      ledger.close();
    },
  };
  tie(ledger, { is: 'ledger', journal });
  return Object.freeze(ledger);
}

/** The end of a test's body. */
export interface BodyEnd {
  /** How many assertions the runner counted, if it counts them. */
  readonly assertions?: number | undefined;
  /** Whether it asserts by means that the runner does not count; called only if it matters. */
  readonly assertsItself?: (() => boolean) | undefined;
  /** The error that it threw. */
  readonly reason?: unknown;
}

/** Ends the streams that a ledger follows before it is closed, for callers that can wait. */
export async function endFollowing(ledger: Ledger): Promise<void> {
  const held = tied(ledger);
  if (held !== undefined) await endStreams(held.journal);
}

/**
 * Closes a ledger and returns the findings, for callers that report them themselves.
 *
 * @param passed whether the test's body has passed
 */
export function closeLedger(
  ledger: Ledger,
  passed: boolean,
  { assertions, assertsItself, reason }: BodyEnd = {},
): Verdict {
  const held = tied(ledger);
  if (held === undefined) throw new TypeError('this is not a ledger');
  noteAssertions(held.journal, assertions, assertsItself);
  const verdict = closeJournal(held.journal, passed, reason);
  if (passed) tellNotes(held.journal);
  return verdict;
}
