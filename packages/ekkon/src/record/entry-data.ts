import { readSite } from './call-site.ts';
import type { Entry } from './entry.ts';
import type { HeldEntry } from './journal.ts';

/** An entry as plain data, as it stands at this moment. */
export function entryData(entry: HeldEntry): Entry {
  const { id, target, kind, args, liveArgs, receiver, began, ended, outcome, parent } = entry;
  const { label, double, member } = target;
  return {
    id,
    label,
    double,
    member,
    kind,
    args,
    liveArgs,
    receiver,
    at: { began: entry.beganAt, ended: entry.endedAt },
    began,
    ended,
    outcome,
    site: readSite(entry.captured),
    parent,
    answer: entry.answer && { plan: entry.answer.plan, reply: entry.answer.reply },
  };
}
