import type { AnyParts } from '../claim/during-parts.ts';
import { type HeldClaim, partsOf } from '../claim/kinds.ts';
import type { Evidence, Heard, Hearing, Standing } from '../claim/parts.ts';
import { callsOf, type HeldEvent, isAtEnd, isEnd } from '../pattern/event.ts';
import { callsFit, endFit } from '../pattern/fit.ts';
import { makePatternIndex, type PatternIndex } from '../pattern/pattern-index.ts';
import { numberPatterns } from '../pattern/pattern-numbers.ts';
import { sameEnd } from '../pattern/same-pattern.ts';
import type { HeldEntry } from '../record/journal.ts';
import type { Fit } from '../value/comparison.ts';

/** How a claim is judged: in every way of deciding the undecided entries it holds, in none, or in some. */
export type Judged = 'holds' | 'fails' | 'undecided';

/** An entry of which it is not known whether it fits a pattern. */
export interface Undecided {
  readonly entry: HeldEntry;
  readonly event: HeldEvent;
}

/** One way of deciding the undecided entries, and the state that the claim is in then. */
interface World {
  /** For calls under way: whether they match, so their ends are decided in the same way. */
  readonly answers: readonly Answer[];
  readonly state: unknown;
}

interface Answer {
  readonly id: number;
  /** The number of the calls that are asked of. */
  readonly calls: number;
  readonly fits: boolean;
}

/** More ways of deciding than this are not looked at; the claim is undecided then. */
const worldsAllowed = 1_024;

/** How many questions one event may leave open at a time: each doubles the ways of deciding. */
const questionsAllowed = 10;

/** How many undecided entries are remembered for the report. */
const undecidedKept = 12;

/**
 * Folds one claim over the events of a record, in every way of deciding the entries that are undecided. An
 * entry fits a pattern or it does not, at its beginning as at its end; patterns that differ are decided apart
 * from each other.
 */
export class Follower {
  readonly claim: HeldClaim;
  readonly parts: AnyParts;
  readonly hearing: Hearing;
  /** The first entries that were undecided. */
  readonly undecided: Undecided[] = [];
  private readonly asked = new Set<HeldEntry>();
  /** Whether it has heard anything. */
  hasHeard = false;
  /** Whether there were too many ways of deciding to look at them all. */
  tooMany = false;
  private worlds: readonly World[];
  /** For kinds that only count, two worlds tell the rest: the first in which none fits, the second in which all do. */
  private readonly counts: boolean;
  private readonly index: PatternIndex;
  private readonly single: HeldEvent | undefined;
  /** For each pattern, the number of its calls: the same for patterns of the same calls. */
  private readonly callsNumbers: readonly number[];
  /** Whether the beginning and the end of the same calls are heard, so results must be kept. */
  private readonly keepsFits: boolean;
  private readonly lists: (readonly number[])[] = [];
  /** The results for calls under way, by the number of the calls. */
  private readonly kept = new Map<HeldEntry, Map<number, Fit>>();

  /** @param parts those of its kind, unless something else is asked of the claim */
  constructor(claim: HeldClaim, parts = partsOf(claim)) {
    this.claim = claim;
    this.parts = parts;
    this.hearing = this.parts.hears(claim);
    this.counts = this.parts.side !== undefined;
    this.worlds = [{ answers: noAnswers, state: this.parts.start(claim, 0, undefined) }];
    const { events, beginnings } = this.hearing;
    this.single = events.length === 1 && beginnings === undefined ? events[0] : undefined;
    this.index = this.single === undefined ? makePatternIndex(events) : onlyPattern;
    const numbers = this.single === undefined ? numberPatterns<HeldEvent>() : undefined;
    this.callsNumbers = events.map((event) =>
      event === undefined ? -1 : (numbers?.numberOf(callsOf(event)) ?? 0),
    );
    this.keepsFits = keepsFits(events, this.callsNumbers);
  }

  /** Takes the next event of the record; says whether the claim has heard it. */
  take(entry: HeldEntry, end: boolean, tick: number): boolean {
    if (this.single !== undefined) return this.takeSingle(this.single, entry, end, tick);
    const candidates = this.index(entry, end);
    const isBeginning = !end && this.hearing.beginnings?.(entry.target) === true;
    if (candidates.length === 0 && !isBeginning) return false;
    let fits = noNumbers;
    let open = noneOpen;
    for (const at of candidates) {
      const questions = this.questionsOn(at, entry, end);
      if (questions === undefined) continue;
      if (questions.length > 0) open = [...open, { at, questions }];
      else fits = fits.length === 0 ? this.alone(at) : [...fits, at];
    }
    const isHeard = fits.length > 0 || open.length > 0 || isBeginning;
    if (isHeard) this.advance({ entry, end, tick, fits, before: false }, open, isBeginning);
    if (end && this.keepsFits) this.kept.delete(entry);
    return isHeard;
  }

  /** The most frequent kind of claim by far: one pattern, of which nothing has to be kept. */
  private takeSingle(event: HeldEvent, entry: HeldEntry, end: boolean, tick: number): boolean {
    if (isAtEnd(event) !== end) return false;
    const calls = callsFit(callsOf(event), entry);
    if (calls === 'differs') return false;
    const ended = end && isEnd(event) ? endFit(event, entry) : calls;
    if (ended === 'differs') return false;
    const isOpen = calls === 'undecided' || ended === 'undecided';
    const heard: Heard = { entry, end, tick, fits: isOpen ? noNumbers : onlyNumber, before: false };
    this.advance(heard, isOpen ? onlyOpen : noneOpen, false);
    return true;
  }

  private advance(heard: Heard, open: readonly Open[], isBeginning: boolean): void {
    this.hasHeard = true;
    if (open.length > 0) this.takeUndecided(heard, open, isBeginning);
    else if (this.worlds.length === 1) this.advanceOnly(heard);
    else this.advanceAll(heard);
  }

  /** How the claim stands in all worlds: it holds if it does in every one, and is lost as soon as it is in one. */
  standing(evidence: Evidence): Standing {
    if (this.tooMany) return 'lost';
    let standing: Standing = 'holds';
    for (const { state } of this.worlds) {
      const here = this.parts.stands(this.claim, state, evidence);
      if (here === 'lost') return 'lost';
      if (here === 'open') standing = here;
    }
    return standing;
  }

  /** The judgment of the claim on the events so far. */
  judged(evidence: Evidence): Judged {
    if (this.tooMany) return 'undecided';
    if (this.counts && this.worlds.length > 1) return this.judgedByCount();
    let [holding, failing] = [0, 0];
    for (const { state } of this.worlds) {
      if (this.parts.stands(this.claim, state, evidence) === 'holds') holding++;
      else failing++;
    }
    return failing === 0 ? 'holds' : holding === 0 ? 'fails' : 'undecided';
  }

  private judgedByCount(): Judged {
    const [none = 0, all = 0] = this.worlds.map(({ state }) =>
      this.parts.side?.(this.claim, state),
    );
    if (none === 0 && all === 0) return 'holds';
    // Even without any of them it is too much, or even with all of them too little.
    return none === 1 || all === -1 ? 'fails' : 'undecided';
  }

  /** How many entries were undecided. */
  get undecidedCount(): number {
    return this.asked.size;
  }

  /** The state in the first world: where no undecided entry fits. */
  get state(): unknown {
    return this.worlds[0]?.state;
  }

  /** Whether nothing that was heard leaves more than one way of deciding. */
  get isCertain(): boolean {
    return this.worlds.length === 1 && !this.tooMany;
  }

  /** The event that never occurred, in a world in which it did not. */
  absent(): ReturnType<AnyParts['absent']> {
    for (const { state } of this.worlds) {
      const absent = this.parts.absent(this.claim, state);
      if (absent !== undefined) return absent;
    }
    return undefined;
  }

  /** Whether it may still come true in every world, though only some patterns can still be met. */
  hopes(isAlive: (event: HeldEvent) => boolean): boolean {
    return this.worlds.every(({ state }) => this.parts.hopes?.(this.claim, state, isAlive) ?? true);
  }

  /** The questions that are open of an event and a pattern; `undefined` if it surely does not fit. */
  private questionsOn(at: number, entry: HeldEntry, end: boolean): readonly Question[] | undefined {
    const event = this.hearing.events[at];
    if (event === undefined) return undefined;
    const calls = this.callsFitOf(at, event, entry);
    if (calls === 'differs') return undefined;
    const ended = end && isEnd(event) ? endFit(event, entry) : 'fits';
    if (ended === 'differs') return undefined;
    if (calls === 'fits' && ended === 'fits') return noNumbers;
    const questions: Question[] = [];
    if (calls === 'undecided') questions.push(2 * (this.callsNumbers[at] ?? 0));
    if (ended === 'undecided') questions.push(2 * this.endNumber(at) + 1);
    return questions;
  }

  private callsFitOf(at: number, event: HeldEvent, entry: HeldEntry): Fit {
    if (!this.keepsFits) return callsFit(callsOf(event), entry);
    const number = this.callsNumbers[at] ?? 0;
    const known = this.kept.get(entry) ?? new Map<number, Fit>();
    const fit = known.get(number) ?? callsFit(callsOf(event), entry);
    this.kept.set(entry, known.set(number, fit));
    return fit;
  }

  /** A list with one number, made once for each. */
  private alone(at: number): readonly number[] {
    const known = this.lists[at] ?? [at];
    this.lists[at] = known;
    return known;
  }

  private advanceOnly(heard: Heard): void {
    const [world] = this.worlds as readonly [World];
    const state = this.parts.take(this.claim, world.state, heard);
    if (state !== world.state) this.worlds = [{ answers: world.answers, state }];
  }

  private advanceAll(heard: Heard): void {
    const { entry, end } = heard;
    const next = this.worlds.map(({ answers, state }) => ({
      answers: end ? without(answers, entry) : answers,
      state: this.parts.take(this.claim, state, heard),
    }));
    this.worlds = this.counts ? next : this.merged(next);
  }

  private takeUndecided(heard: Heard, open: readonly Open[], isBeginning: boolean): void {
    this.note(heard.entry, open);
    if (this.tooMany) return;
    if (this.counts) this.countUndecided(heard, open);
    else
      this.worlds = this.merged(
        this.worlds.flatMap((world) => this.split(world, heard, open, isBeginning)),
      );
    if (this.worlds.length > worldsAllowed) this.tooMany = true;
  }

  /** In the first world no undecided entry fits, in the second all do. */
  private countUndecided(heard: Heard, open: readonly Open[]): void {
    const [none, all = none] = this.worlds as readonly [World, World?];
    const take = (world: World, fits: readonly number[]): World =>
      fits.length === 0
        ? world
        : {
            answers: noAnswers,
            state: this.parts.take(this.claim, world.state, { ...heard, fits }),
          };
    this.worlds = [take(none, heard.fits), take(all, [...heard.fits, ...open.map(({ at }) => at)])];
  }

  /** The worlds that an event leads to from one, by the answers to the questions that are open in it. */
  private split(
    world: World,
    heard: Heard,
    open: readonly Open[],
    isBeginning: boolean,
  ): readonly World[] {
    const { entry, end } = heard;
    const asked = this.parts.asks?.(this.claim, world.state);
    const relevant = asked === undefined ? open : open.filter(({ at }) => asked.includes(at));
    let ways: readonly Way[] = [{ yes: noQuestions, answers: noAnswers }];
    for (const question of new Set(relevant.flatMap(({ questions }) => questions))) {
      ways = ways.flatMap((way) => answered(way, question, entry, world.answers));
      if (ways.length > 2 ** questionsAllowed) {
        this.tooMany = true;
        return [world];
      }
    }
    return ways.map(({ yes, answers }) => {
      const met = relevant.filter(({ questions }) => questions.every((each) => yes.has(each)));
      const fits = [...heard.fits, ...met.map(({ at }) => at)];
      const remembered = end ? without(world.answers, entry) : [...world.answers, ...answers];
      const isHeard = fits.length > 0 || isBeginning;
      const state = isHeard
        ? this.parts.take(this.claim, world.state, { ...heard, fits })
        : world.state;
      return { answers: this.keepsFits ? remembered : noAnswers, state };
    });
  }

  /** The first pattern with the same end: the same question has one answer. */
  private endNumber(at: number): number {
    const { events } = this.hearing;
    const event = events[at];
    return events.findIndex(
      (each) => each !== undefined && event !== undefined && sameEnd(each, event),
    );
  }

  private note(entry: HeldEntry, open: readonly Open[]): void {
    const event = this.hearing.events[open[0]?.at ?? 0];
    if (event === undefined || this.asked.has(entry)) return;
    this.asked.add(entry);
    if (this.undecided.length < undecidedKept) this.undecided.push({ entry, event });
  }

  /** The worlds that differ. */
  private merged(worlds: readonly World[]): readonly World[] {
    if (worlds.length < 2) return worlds;
    const buckets = new Map<unknown, World[]>();
    const kept: World[] = [];
    for (const world of worlds) {
      const key = this.parts.bucket?.(this.claim, world.state);
      const bucket = buckets.get(key) ?? [];
      buckets.set(key, bucket);
      if (bucket.some((other) => this.sameWorld(other, world))) continue;
      bucket.push(world);
      kept.push(world);
      if (kept.length > worldsAllowed) break;
    }
    return kept;
  }

  private sameWorld(one: World, other: World): boolean {
    return (
      one.answers.length === other.answers.length &&
      one.answers.every((answer, at) => sameAnswer(answer, other.answers[at])) &&
      this.parts.same(this.claim, one.state, other.state)
    );
  }
}

/** Whether the calls of a number fit (an even number), or whether the end of a pattern does (an odd one). */
type Question = number;

/** A pattern for which it is unknown whether an event matches, and the open questions. */
interface Open {
  readonly at: number;
  readonly questions: readonly Question[];
}

/** One way of deciding an event: the questions answered with yes, and the answers to remember. */
interface Way {
  readonly yes: ReadonlySet<Question>;
  readonly answers: readonly Answer[];
}

/** Both ways of answering a question, or the one in which it was answered when the call began. */
function answered(
  { yes, answers }: Way,
  question: Question,
  { id }: HeldEntry,
  before: readonly Answer[],
): readonly Way[] {
  const calls = question % 2 === 0 ? question / 2 : undefined;
  const known = before.find((answer) => answer.id === id && answer.calls === calls);
  return (known === undefined ? bothAnswers : [known.fits]).map((fits) => ({
    yes: fits ? new Set([...yes, question]) : yes,
    answers:
      calls === undefined || known !== undefined ? answers : [...answers, { id, calls, fits }],
  }));
}

const bothAnswers: readonly boolean[] = [false, true];
const noQuestions: ReadonlySet<Question> = new Set();
const noAnswers: readonly Answer[] = [];
const onlyNumber: readonly number[] = [0];
const noNumbers: readonly number[] = [];
const onlyOpen: readonly Open[] = [{ at: 0, questions: [0] }];
const noneOpen: readonly Open[] = [];

function onlyPattern(): readonly number[] {
  return onlyNumber;
}

function without(answers: readonly Answer[], { id }: HeldEntry): readonly Answer[] {
  return answers.length === 0 ? answers : answers.filter((answer) => answer.id !== id);
}

function sameAnswer(one: Answer, other: Answer | undefined): boolean {
  return one.id === other?.id && one.calls === other.calls && one.fits === other.fits;
}

/** Whether some calls are heard both as they begin and as they end, and are not all that there are. */
function keepsFits(
  events: readonly (HeldEvent | undefined)[],
  numbers: readonly number[],
): boolean {
  const begun = new Set<number>();
  events.forEach((event, at) => {
    if (event !== undefined && !isAtEnd(event) && callsOf(event).claimed !== undefined)
      begun.add(numbers[at] ?? -1);
  });
  return events.some(
    (event, at) => event !== undefined && isAtEnd(event) && begun.has(numbers[at] ?? -1),
  );
}
