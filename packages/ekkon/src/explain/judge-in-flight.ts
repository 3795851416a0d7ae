import { inRange } from '../claim/count.ts';
import type { HeldInFlight } from '../claim/in-flight.ts';
import { entryFit, type JudgedEntry } from '../claim/pattern.ts';
import type { Window } from '../claim/window.ts';
import { entryData } from '../record/recording.ts';
import type { InFlightDiagnosis } from './finding.ts';
import type { View } from './view.ts';

/** Judges how many calls were under way at one time, by a sweep over their beginnings and ends. */
export function judgeInFlight(
  claim: HeldInFlight,
  { record, window }: View,
): InFlightDiagnosis | undefined {
  const calls = record.entries.filter(
    (entry) => entryFit(claim.calls, entry) === 'fits' && touches(entry, window),
  );
  const { peak, tick } = peakOf(calls, window);
  if (inRange(claim.range, peak)) return undefined;
  const underWay = calls.filter(
    ({ began, ended }) => began <= tick && (ended ?? Number.POSITIVE_INFINITY) > tick,
  );
  const culprits = [...underWay].reverse().map(({ id }) => id);
  return {
    code: 'inFlight',
    claim: claim.notation,
    culprits,
    at:
      underWay.length === 0
        ? undefined
        : entryData(underWay[underWay.length - 1] as JudgedEntry).site,
    range: claim.range,
    peak,
    tick,
    underWay: underWay.map(entryData),
  };
}

/** Whether a call is under way in some part of the window: one already running counts. */
function touches({ began, ended }: JudgedEntry, { after, before }: Window): boolean {
  return began < before && (ended ?? Number.POSITIVE_INFINITY) > after;
}

function peakOf(
  calls: readonly JudgedEntry[],
  { after }: Window,
): { readonly peak: number; readonly tick: number } {
  const changes = calls.flatMap(({ began, ended }) => [
    { tick: Math.max(began, after), by: 1 },
    ...(ended === undefined ? [] : [{ tick: ended, by: -1 }]),
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
