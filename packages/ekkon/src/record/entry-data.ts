import { readSites } from './call-site.ts';
import type { Entry } from './entry.ts';
import type { HeldEntry } from './journal.ts';

/** An entry as plain data, as it stands at this moment. */
export function entryData(entry: HeldEntry): Entry {
  const { id, target, kind, args, receiver, began, ended, outcome, parent, given, more } = entry;
  const { label, double, member, openedAt } = target;
  const endedAt = ended === undefined ? undefined : openedAt + (more?.endedAt ?? entry.beganAt);
  const sites = readSites(more?.captured);
  return {
    id,
    label,
    double,
    member,
    kind,
    args,
    liveArgs: given?.args ?? args,
    receiver,
    at: { began: openedAt + entry.beganAt, ended: endedAt },
    began,
    ended,
    outcome,
    site: sites[0],
    sites,
    parent,
    answer: more?.answer && { plan: more.answer.plan, reply: more.answer.reply },
  };
}
