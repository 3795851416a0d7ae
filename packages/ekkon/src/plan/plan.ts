import { countClaimOf } from '../claim/claim.ts';
import type { CountClaim, HeldCountClaim } from '../claim/count.ts';
import { type CallPattern, entryFit, type HeldPattern, patternOf } from '../claim/pattern.ts';
import { shortValue } from '../notation/value.ts';
import type { CapturedSite } from '../record/call-site.ts';
import type { HeldEntry } from '../record/ledger-record.ts';
import { printsAs } from '../record/prints-as.ts';
import { refuse } from '../record/refuse.ts';
import { noteUsed, writtenSite } from '../record/written.ts';
import { type HeldReply, type Reply, replyOf } from './reply.ts';

/** What a member answers to the calls that fit a pattern. */
export interface Plan {
  /** How many calls it has answered. */
  readonly used: number;
}

/** A plan behind its public type. */
export interface HeldPlan extends Plan {
  used: number;
  readonly pattern: HeldPattern;
  readonly replies: readonly HeldReply[];
  /** The count it requires, where it was planned with one. */
  readonly counted: HeldCountClaim | undefined;
  /** Where it was written. */
  readonly captured: CapturedSite | undefined;
  /** The entries it answered. */
  readonly answered: HeldEntry[];
}

/**
 * Plans what a member replies to the calls that fit. Several replies come in turn, and the last one
 * holds. Among plans that fit a call, the newest one answers.
 *
 * With a count in place of the pattern, the plan answers that many calls and requires them when the
 * ledger is closed; counted plans with equal patterns are used in the order in which they were written.
 *
 * @throws TypeError where there is no pattern or no reply
 * @example
 * plan(call(weather.read), gives(4), gives(9));
 * plan(call(weather.read, ['north']), gives(2));
 * plan(once(call(dome.open)), gives(undefined)); // plan and requirement in one line
 */
export function plan<A extends readonly unknown[], R>(
  calls: CallPattern<A, R> | CountClaim<A, R>,
  reply: Reply<NoInfer<R>, NoInfer<A>>,
  ...more: Reply<NoInfer<R>, NoInfer<A>>[]
): Plan {
  const counted = countClaimOf(calls);
  const pattern = counted === undefined ? patternOf(calls) : patternOf(counted.held);
  if (pattern === undefined || pattern.of !== 'call') {
    refuse(
      `plan() takes a pattern of calls first, and was given ${shortValue(calls)}. Write plan(call(dome.open), gives(true)).`,
      plan,
    );
  }
  const calling = `call(${pattern.member.label})`;
  const said = `plan(${counted === undefined ? calling : `${counted.word}(${counted.word === 'times' ? '…, ' : ''}${calling})`}`;
  if (reply === undefined) {
    refuse(
      `${said}) has no reply. Write ${said}, gives(…)), or throws, fulfils, rejects, computes.`,
      plan,
    );
  }
  if (counted?.range.most === 0) {
    refuse(
      `${said}, …) would never answer. To claim that no call comes, write check(${counted.notation}).`,
      plan,
    );
  }
  const given: readonly unknown[] = [reply, ...more];
  const replies = given.map((each) => replyFor(pattern, each, said));
  const { record } = pattern.member;
  noteUsed(record, counted ?? pattern);
  const captured = writtenSite(record, plan);
  const made: HeldPlan = { used: 0, pattern, replies, counted, captured, answered: [] };
  pattern.member.plans.push(made);
  return made;
}

function replyFor({ member }: HeldPattern, given: unknown, said: string): HeldReply {
  const held = replyOf(given);
  if (held === undefined) {
    refuse(
      `${said}, …) was given ${shortValue(given)} as a reply. Write gives(${shortValue(given)}).`,
      plan,
    );
  }
  if (held.kind === 'passesThrough' && member.real === undefined) {
    refuse(
      `${said}, passesThrough()): ${member.label} stands for no real member that could answer. Observe one or take one over, or write computes(…).`,
      plan,
    );
  }
  return held;
}

/**
 * The plan that answers a call. Of those that fit, the newest; of counted ones with equal patterns, the
 * oldest that has calls left. Where only counted ones fit and none has, the last of them answers once
 * more, unless something else can answer beyond them.
 */
export function planFor(
  plans: readonly HeldPlan[],
  entry: HeldEntry,
  beyond: 'last' | 'other' = 'last',
): HeldPlan | undefined {
  let spent: HeldPlan | undefined;
  for (let at = plans.length - 1; at >= 0; at--) {
    const candidate = plans[at];
    if (candidate === undefined || entryFit(candidate.pattern, entry) !== 'fits') continue;
    const answering = candidate.counted === undefined ? candidate : firstInLine(plans, candidate);
    if (answering !== undefined) return answering;
    if (beyond === 'last') spent ??= candidate;
  }
  return spent;
}

/** The oldest counted plan with an equal pattern that has calls left. */
function firstInLine(plans: readonly HeldPlan[], { pattern }: HeldPlan): HeldPlan | undefined {
  return plans.find(
    (each) =>
      each.counted !== undefined &&
      each.used < each.counted.range.most &&
      each.pattern[printsAs] === pattern[printsAs],
  );
}

/** Whether a newer plan answers all the calls that a plan could. */
export function isShadowed(plan: HeldPlan, plans: readonly HeldPlan[]): boolean {
  const written = plan.pattern[printsAs];
  return plans
    .slice(plans.indexOf(plan) + 1)
    .some(
      ({ counted, pattern }) =>
        counted === undefined && (pattern.claimed === undefined || pattern[printsAs] === written),
    );
}

/** Takes the plan's next reply for a call. */
export function takeReply(answering: HeldPlan, entry: HeldEntry): HeldReply {
  const { replies, used, pattern } = answering;
  const reply = replies[Math.min(used, replies.length - 1)] as HeldReply;
  answering.used++;
  answering.answered.push(entry);
  entry.answer = {
    get plan() {
      return answering.counted?.notation ?? pattern[printsAs];
    },
    get reply() {
      return reply[printsAs];
    },
  };
  return reply;
}
