import { aboutClaim } from '../explain/diagnosis.ts';
import type { InFlightDiagnosis } from '../explain/finding.ts';
import type { Window } from '../explain/window.ts';
import { callsFit } from '../pattern/fit.ts';
import { inRange } from '../pattern/multiplicity.ts';
import { entryData } from '../record/entry-data.ts';
import type { HeldEntry } from '../record/journal.ts';
import type { HeldInFlight } from './in-flight.ts';
import type { View } from './parts.ts';

/** How many calls were under way at one time, by a sweep over their beginnings and ends. */
export function explainInFlight(
  claim: HeldInFlight,
  { evidence, window }: View,
): InFlightDiagnosis | undefined {
  const calls = evidence.journal.entries.filter(
    (entry) => callsFit(claim.calls, entry) === 'fits' && touches(entry, window),
  );
  const { peak, tick } = peakOf(calls, window);
  if (inRange(claim.range, peak)) return undefined;
  const underWay = calls.filter(
    ({ began, ended }) => began <= tick && (ended ?? Number.POSITIVE_INFINITY) > tick,
  );
  const last = underWay[underWay.length - 1];
  return {
    code: 'inFlight',
    ...aboutClaim(claim),
    culprits: [...underWay].reverse().map(({ id }) => id),
    at: last === undefined ? undefined : entryData(last).site,
    range: claim.range,
    peak,
    tick,
    underWay: underWay.map(entryData),
  };
}

/** Whether a call is under way in some part of the window: one already running counts. */
function touches({ began, ended }: HeldEntry, { after, before }: Window): boolean {
  return began < before && (ended ?? Number.POSITIVE_INFINITY) > after;
}

function peakOf(
  calls: readonly HeldEntry[],
  { after, before }: Window,
): { readonly peak: number; readonly tick: number } {
  const changes = calls.flatMap(({ began, ended }) => [
    { tick: Math.max(began, after), by: 1 },
    ...(ended === undefined || ended >= before ? [] : [{ tick: ended, by: -1 }]),
  ]);
  // Every tick is given once, but calls already running at the start of a window begin there together.
  changes.sort((one, other) => one.tick - other.tick || one.by - other.by);
  let [now, peak, tick] = [0, 0, 0];
  for (const change of changes) {
    now += change.by;
    if (now > peak) [peak, tick] = [now, change.tick];
  }
  return { peak, tick };
}
