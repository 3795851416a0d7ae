import { asCount, type CountClaim, type HeldCount } from '../claim/count.ts';
import { noteClaimUsed } from '../claim/make-claim.ts';
import { heldClaimOf, type PlannedMember } from '../claim/parts.ts';
import { shortValue } from '../notation/value.ts';
import { asCalls } from '../pattern/as-pattern.ts';
import { type HeldPattern, isEnd, patternOf } from '../pattern/event.ts';
import { callsFit } from '../pattern/fit.ts';
import { samePattern } from '../pattern/same-pattern.ts';
import type { CallPattern } from '../pattern/types.ts';
import { type CapturedSite, readSite } from '../record/call-site.ts';
import { forEachJournal } from '../record/each-journal.ts';
import type { HeldAnswer } from '../record/entry.ts';
import { type HeldEntry, type Journal, moreOf } from '../record/journal.ts';
import type { Member } from '../record/member.ts';
import { writtenSite } from '../record/slip.ts';
import { printsAs } from '../value/prints-as.ts';
import { refuse } from '../value/refuse.ts';
import { type HeldReply, type Reply, replyOf } from './reply.ts';

/** The replies of a member to the calls that match a pattern. */
export interface Plan {
  /** How many calls it has answered. */
  readonly used: number;
}

/** A plan behind its public type. */
export interface HeldPlan extends Plan {
  used: number;
  readonly pattern: HeldPattern;
  readonly replies: readonly HeldReply[];
  /** The count it requires, if it was planned with one. */
  readonly counted: HeldCount | undefined;
  /** The tick of the record at which it was written. */
  readonly since: number;
  /** Where it was written. */
  readonly captured: CapturedSite | undefined;
  /** The entries it answered. */
  readonly answered: HeldEntry[];
  /** The entries of which it was not known whether it fits them: it did not answer those. */
  readonly undecided: HeldEntry[];
}

/** The plans of a ledger by member, the oldest first. */
const plansOn = forEachJournal(() => new Map<Member, HeldPlan[]>());

/** The plans of a member, the oldest first: one list, which grows. */
export function plansOf(member: Member): readonly HeldPlan[] {
  return growingPlansOf(member);
}

function growingPlansOf(member: Member): HeldPlan[] {
  const plans = plansOn(member.journal);
  const known = plans.get(member) ?? [];
  plans.set(member, known);
  return known;
}

/** All plans of a ledger, member by member. */
export function plansIn(journal: Journal): readonly HeldPlan[] {
  return [...plansOn(journal).values()].flat();
}

/**
 * Plans the reply of a member to matching calls. Several replies come in turn, and the last one is repeated. If
 * several plans match a call, the newest one answers.
 *
 * With a count in place of the pattern, the plan answers that many calls and requires them when the ledger is closed.
 * Counted plans with equal patterns are used in the order in which they were written.
 *
 * @throws TypeError if there is no pattern or no reply
 * @example
 * plan(call(weather.rain), gives(0), gives(0.4));
 * plan(call(archive.store, [partial({ id: 'frame-1' })]), rejects(new Error('full')));
 * plan(once(call(dome.open)), gives(undefined)); // plan and requirement in one line
 */
export function plan<A extends readonly unknown[], R>(
  calls: CallPattern<A, R> | CountClaim<A, R>,
  reply: Reply<NoInfer<R>, NoInfer<A>>,
  ...more: Reply<NoInfer<R>, NoInfer<A>>[]
): Plan {
  const counted = asCount(heldClaimOf(calls));
  const pattern = readCalls(counted, calls);
  const { label } = pattern.member.target;
  const calling = pattern.of === 'read' ? 'reads(…)' : `call(${label})`;
  const said = `plan(${counted === undefined ? calling : `${counted.word}(${counted.word === 'times' ? '…, ' : ''}${calling})`}`;
  if (reply === undefined) {
    refuse(
      `${said}) has no reply. Write ${said}, gives(…)), or throws, fulfils, rejects, computes.`,
      plan,
    );
  }
  if (counted?.range.most === 0) {
    refuse(
      `${said}, …) would never answer. To claim that no call comes, write check(never(${calling})).`,
      plan,
    );
  }
  const given: readonly unknown[] = [reply, ...more];
  const replies = given.map((each) => replyFor(pattern, each, said));
  const captured = writtenSite(pattern.member.journal, plan);
  const made: HeldPlan = {
    used: 0,
    pattern,
    replies,
    counted,
    since: pattern.member.journal.tick,
    captured,
    answered: [],
    undecided: [],
  };
  growingPlansOf(pattern.member).push(made);
  return made;
}

function readCalls(counted: HeldCount | undefined, given: unknown): HeldPattern {
  const example = 'plan(call(dome.open), gives(true))';
  if (counted === undefined) return asCalls(given, example, plan);
  if (isEnd(counted.held) || patternOf(counted.held) === undefined) {
    refuse(
      `plan() takes calls, and was given a count of how they end: ${counted.notation}. Write ${example}.`,
      plan,
    );
  }
  noteClaimUsed(counted);
  return asCalls(counted.held, example, plan);
}

/** The reply that was meant by a value that is none. */
function replyLike(given: unknown): string {
  if (typeof given === 'function') return 'computes(() => 5), which is asked for each call';
  if (Array.isArray(given) && given.some((each) => replyOf(each) !== undefined))
    return 'one reply after another, with no list around them: gives(1), gives(2)';
  return typeof given === 'object' && given !== null
    ? 'gives(value)'
    : `gives(${shortValue(given)})`;
}

function replyFor({ member }: HeldPattern, given: unknown, said: string): HeldReply {
  const held = replyOf(given);
  if (held === undefined) {
    refuse(
      `${said}, …) was given ${shortValue(given)} as a reply. Write ${replyLike(given)}.`,
      plan,
    );
  }
  if (held.kind === 'passesThrough' && member.real === undefined) {
    refuse(
      `${said}, passesThrough()): ${member.target.label} stands for no real member that could answer. Observe one or take one over, or write computes(…).`,
      plan,
    );
  }
  return held;
}

/**
 * The plan that answers a call. Of those that fit, the newest; of counted ones with equal patterns, the
 * oldest that has calls left. If only counted ones fit and none has, the last of them answers once
 * more, unless something else can answer beyond them. A plan that may fit does not answer, and notes that.
 */
export function planFor(
  among: readonly HeldPlan[],
  entry: HeldEntry,
  beyond: 'last' | 'other' = 'last',
): HeldPlan | undefined {
  let spent: HeldPlan | undefined;
  for (let at = among.length - 1; at >= 0; at--) {
    const candidate = among[at];
    if (candidate === undefined) continue;
    const fit = callsFit(candidate.pattern, entry);
    if (fit === 'undecided') candidate.undecided.push(entry);
    if (fit !== 'fits') continue;
    const answering = candidate.counted === undefined ? candidate : firstInLine(among, candidate);
    if (answering !== undefined) return answering;
    if (beyond === 'last') spent ??= candidate;
  }
  return spent;
}

/** The oldest counted plan with an equal pattern that has calls left. */
function firstInLine(among: readonly HeldPlan[], { pattern }: HeldPlan): HeldPlan | undefined {
  return among.find(
    (each) =>
      each.counted !== undefined &&
      each.used < each.counted.range.most &&
      samePattern(each.pattern, pattern),
  );
}

/** Whether a newer plan answers all the calls that a plan could. */
export function isShadowed(plan: HeldPlan, among: readonly HeldPlan[]): boolean {
  return among
    .slice(among.indexOf(plan) + 1)
    .some(
      ({ counted, pattern }) =>
        counted === undefined &&
        (pattern.claimed === undefined || samePattern(pattern, plan.pattern)),
    );
}

/** Takes the plan's next reply for a call. */
export function takeReply(answering: HeldPlan, entry: HeldEntry): HeldReply {
  const { replies, used } = answering;
  const reply = replies[Math.min(used, replies.length - 1)] as HeldReply;
  answering.used++;
  answering.answered.push(entry);
  const answer: HeldAnswer = {
    get plan() {
      return printPlanned(answering);
    },
    get reply() {
      return reply[printsAs];
    },
    get isHeld() {
      return reply.kind === 'deferred' && !isOnLineOf(reply.made, answering.captured);
    },
  };
  moreOf(entry).answer = answer;
  return reply;
}

/** Whether an object was made on the line of its plan, so the test did not keep it. */
function isOnLineOf(made: CapturedSite, plan: CapturedSite | undefined): boolean {
  const [one, other] = [readSite(made), readSite(plan)];
  return (
    one === undefined || other === undefined || (one.file === other.file && one.line === other.line)
  );
}

/** The calls of a plan, as they were written: `once dome.open`. */
export function printPlanned({ counted, pattern }: HeldPlan): string {
  return counted?.notation ?? pattern[printsAs];
}

/** A plan as it was written, with its replies. */
export function printPlan(held: HeldPlan): string {
  return `${printPlanned(held)} ${held.replies.map((reply) => reply[printsAs]).join(', then ')}`;
}

/** The members of a ledger that have plans, as claims look at them. */
export function plannedIn(journal: Journal): readonly PlannedMember[] {
  return [...plansOn(journal)].flatMap(([{ target }, plans]) => {
    if (plans.length === 0) return [];
    const throws = plans.some(({ replies }) => replies.some(({ kind }) => kind === 'throws'));
    return [{ target, throws }];
  });
}
