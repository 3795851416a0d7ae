import { claimOf } from '../claim/count.ts';
import {
  type CallPattern,
  entryFit,
  type HeldPattern,
  type JudgedEntry,
  patternOf,
} from '../claim/pattern.ts';
import { shortValue } from '../notation/value.ts';
import { refuse } from '../record/refuse.ts';
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
}

/**
 * Plans what a member replies to the calls that fit. Several replies come in turn, and the last one
 * holds. Among plans that fit a call, the newest one answers.
 *
 * @throws TypeError where there is no pattern or no reply
 * @example
 * plan(call(weather.read), gives(4), gives(9));
 * plan(call(weather.read, ['north']), gives(2));
 */
export function plan<A extends readonly unknown[], R>(
  calls: CallPattern<A, R>,
  reply: Reply<NoInfer<R>, NoInfer<A>>,
  ...more: Reply<NoInfer<R>, NoInfer<A>>[]
): Plan {
  const pattern = patternOf(calls);
  if (pattern === undefined)
    refuse(`plan() takes a pattern first, and was given ${describe(calls)}.`, plan);
  const label = pattern.member.label;
  const given: readonly unknown[] = [reply, ...more];
  if (reply === undefined) {
    refuse(
      `plan(call(${label})) has no reply. Write plan(call(${label}), gives(…)), or throws, fulfils, rejects, computes.`,
      plan,
    );
  }
  const replies = given.map((each) => {
    const held = replyOf(each);
    if (held === undefined) {
      refuse(
        `plan(call(${label}), …) was given ${shortValue(each)} as a reply. Write gives(${shortValue(each)}).`,
        plan,
      );
    }
    return held;
  });
  const made: HeldPlan = { used: 0, pattern, replies };
  pattern.member.plans.push(made);
  return made;
}

function describe(calls: unknown): string {
  if (claimOf(calls) !== undefined)
    return `the claim \`${claimOf(calls)?.notation}\`. Write plan(call(…), …) with the pattern alone`;
  return `${shortValue(calls)}. Write plan(call(dome.open), gives(true))`;
}

/** The reply to a call, and the plan it comes from; the plan counts it as used. */
export function takeReply(plans: readonly HeldPlan[], entry: JudgedEntry): HeldReply | undefined {
  for (let at = plans.length - 1; at >= 0; at--) {
    const candidate = plans[at];
    if (candidate !== undefined && entryFit(candidate.pattern, entry) === 'fits') {
      const turn = Math.min(candidate.used, candidate.replies.length - 1);
      candidate.used++;
      return candidate.replies[turn];
    }
  }
  return undefined;
}
