import { callsOf, isEnd } from '../pattern/event.ts';
import { argumentsFitOf, eventFit } from '../pattern/fit.ts';
import { fittingOutcome } from '../pattern/fitting.ts';
import { readSite } from '../record/call-site.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import type { Candidate, Missed, Search } from './candidates.ts';
import { alteredEntry } from './change.ts';

/** How many calls of other members are tried for one pattern. */
const othersTried = 20;

/**
 * Calls of other members with the claimed arguments. If no arguments are claimed, only a sibling that a claim has too
 * much of may stand for the missing call.
 */
export function* fromOtherMembers(
  { journal }: Search,
  { event, more }: Missed,
  unwanted: ReadonlySet<HeldEntry>,
): Generator<Candidate> {
  const calls = callsOf(event);
  if (calls.of !== 'call') return;
  const { target } = calls.member;
  let tried = 0;
  for (const entry of journal.entries) {
    if (entry.target === target || (entry.kind !== 'call' && entry.kind !== 'construct')) continue;
    const isAlike =
      calls.claimed === undefined
        ? entry.target.double === target.double && unwanted.has(entry)
        : argumentsFitOf(calls, entry) === 'fits';
    if (!isAlike || (entry.target.double !== target.double && isUsual(entry, journal))) continue;
    const outcome = isEnd(event) ? fittingOutcome(event, entry.outcome) : undefined;
    const mend = alteredEntry(entry, { target, ...(outcome === undefined ? {} : { outcome }) });
    if (![event, ...more].every((each) => eventFit(each, mend) === 'fits')) continue;
    yield {
      alteration: 'member',
      change: { without: [entry], added: [mend] },
      distance: entry.target.double === target.double ? 0 : 1,
      entry,
      event,
      gap: undefined,
    };
    if (++tried >= othersTried) return;
  }
}

/** Whether other calls of the member were made at the same place in the code. */
function isUsual(entry: HeldEntry, { entries }: Journal): boolean {
  const place = placeOf(entry);
  if (place === undefined) return false;
  return entries.some(
    (other) => other !== entry && other.target === entry.target && placeOf(other) === place,
  );
}

function placeOf({ more }: HeldEntry): string | undefined {
  const site = readSite(more?.captured);
  return site && `${site.file}:${site.line}:${site.column}`;
}
