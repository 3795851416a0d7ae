import type { Altering } from '../alter/alterations.ts';
import { leavesOf } from '../alter/leaves.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import { dateTime } from '../value/slots.ts';

/** The replies of the test itself, and where they went. */
export interface Replies {
  /**
   * Whether an entry only asks: the test gave its reply, and the reply is a yes, a no or a number, or a part of it
   * stands in the arguments of a later call. A test is about the use of the reply.
   */
  isQuery(entry: HeldEntry): boolean;
  /** Whether another argument would have had the same reply, so no later call shows the difference. */
  isAnsweredAlike(entry: HeldEntry): boolean;
  /** Whether an argument of an entry came from the reply of another. */
  flows(from: HeldEntry, to: HeldEntry): boolean;
}

/** Whether an argument of an entry, or its receiver, may come from the reply of another, even if that is only true or 1. */
export function mayFlow(from: HeldEntry, to: HeldEntry): boolean {
  const reply = replyOf(from);
  if (reply === undefined || reply === null) return false;
  const given = leavesOf(reply);
  if (typeof reply === 'object' || typeof reply === 'function') {
    if (given.length === 0) return true;
  }
  return leavesOf(to.args).some(({ value }) => given.some((each) => Object.is(each.value, value)));
}

export function repliesOn({ entries }: Journal, altering: Altering): Replies {
  const lastUses = new Map<string, number>();
  for (const entry of entries)
    for (const key of keysOf(entry.args))
      lastUses.set(key, Math.max(lastUses.get(key) ?? 0, entry.began));

  const isUsed = (entry: HeldEntry): boolean =>
    keysOf(replyOf(entry)).some((key) => (lastUses.get(key) ?? 0) > (entry.ended ?? entry.began));
  const asks = (entry: HeldEntry): boolean => {
    const reply = replyOf(entry);
    if (altering.isReal(entry) || reply === undefined || reply === null) return false;
    return typeof reply === 'boolean' || typeof reply === 'number' || isUsed(entry);
  };
  const members = new Map<unknown, boolean>();
  return {
    isQuery({ target, kind }) {
      if (kind !== 'call') return false;
      let known = members.get(target);
      if (known === undefined) {
        known = entries.some(
          (entry) => entry.target === target && entry.kind === kind && asks(entry),
        );
        members.set(target, known);
      }
      return known;
    },
    isAnsweredAlike({ more }) {
      const answer = more?.answer;
      return answer !== undefined && answer.reply !== 'computes' && !answer.plan.endsWith(')');
    },
    flows(from, to) {
      const given = new Set(keysOf(replyOf(from)));
      return keysOf(to.args).some((key) => given.has(key));
    },
  };
}

function replyOf({ outcome }: HeldEntry): unknown {
  return outcome.state === 'returned' || outcome.state === 'fulfilled' ? outcome.value : undefined;
}

/** The data in a value by which it can be recognized: nothing common, such as 0, 1, true and "". */
function keysOf(value: unknown): readonly string[] {
  return leavesOf(value).flatMap(({ value: leaf }) => {
    switch (typeof leaf) {
      case 'string':
        return leaf.length > 1 ? [`text ${leaf}`] : [];
      case 'number':
        return Math.abs(leaf) > 1 || !Number.isInteger(leaf) ? [`number ${leaf}`] : [];
      case 'bigint':
        return [`bigint ${leaf}`];
      case 'object':
        return [`date ${dateTime.call(leaf as object)}`];
      default:
        return [];
    }
  });
}
