import { aboutClaim } from '../explain/diagnosis.ts';
import type { Moment, NearEntry, PrecedenceDiagnosis } from '../explain/finding.ts';
import { nearestFirst } from '../explain/nearest.ts';
import { within } from '../explain/window.ts';
import { callsOf, type HeldEvent, isAtEnd } from '../pattern/event.ts';
import { eventFit, eventTick, speaksOf } from '../pattern/fit.ts';
import { entryData } from '../record/entry-data.ts';
import { printsAs } from '../value/prints-as.ts';
import type { View } from './parts.ts';
import type { HeldPrecedence } from './precedence.ts';

interface Occurrence {
  readonly tick: number;
  readonly moment: Moment;
}

/** The events without the needed one before, or after. */
export function explainPrecedence(
  claim: HeldPrecedence,
  view: View,
): PrecedenceDiagnosis | undefined {
  const needing = occurrences(claim.needing, view);
  const needed = occurrences(claim.needed, view);
  const isBefore = claim.kind === 'onlyAfter';
  const first = needed[0];
  const last = needed[needed.length - 1];
  const faulty = needing.filter(({ tick }) =>
    isBefore ? first === undefined || first.tick >= tick : last === undefined || last.tick <= tick,
  );
  if (faulty.length === 0) return undefined;
  const moments = faulty.map(({ moment }) => moment);
  const isLate = isBefore && first !== undefined;
  const near = isLate
    ? undefined
    : nearFor(claim.needed, view, isBefore ? undefined : faulty[0]?.tick);
  return {
    code: isBefore ? 'tooEarly' : 'neverFollowed',
    ...aboutClaim(claim),
    culprits: [
      ...(near === undefined ? [] : [near.entry.id]),
      ...moments.map(({ entry }) => entry.id),
    ],
    at: near?.entry.site ?? moments[0]?.entry.site,
    near,
    moments,
    needed: claim.needed[printsAs],
    first: first?.moment,
  };
}

/** A call that does not match the needed event but may be meant, if nothing else wants it. */
function nearFor(
  needed: HeldEvent,
  { evidence, window, toBlame }: View,
  after = Number.NEGATIVE_INFINITY,
): NearEntry | undefined {
  const { entries } = evidence.journal;
  const others = entries.filter(
    (entry) =>
      speaksOf(callsOf(needed), entry) &&
      entry.began > after &&
      within(window, entry.began) &&
      eventFit(needed, entry) === 'differs',
  );
  return nearestFirst(needed, toBlame(others, needed), entries)[0];
}

function occurrences(event: HeldEvent, { evidence, window }: View): readonly Occurrence[] {
  return evidence.journal.entries
    .filter((entry) => eventFit(event, entry) === 'fits' && within(window, eventTick(event, entry)))
    .map((entry) => ({
      tick: eventTick(event, entry),
      moment: { entry: entryData(entry), end: isAtEnd(event) },
    }))
    .sort((one, other) => one.tick - other.tick);
}
