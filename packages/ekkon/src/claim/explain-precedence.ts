import { aboutClaim } from '../explain/diagnosis.ts';
import type { Moment, PrecedenceDiagnosis } from '../explain/finding.ts';
import { within } from '../explain/window.ts';
import { type HeldEvent, isAtEnd } from '../pattern/event.ts';
import { eventFit, eventTick } from '../pattern/fit.ts';
import { entryData } from '../record/entry-data.ts';
import { printsAs } from '../value/prints-as.ts';
import type { View } from './parts.ts';
import type { HeldPrecedence } from './precedence.ts';

interface Occurrence {
  readonly tick: number;
  readonly moment: Moment;
}

/** Which of what needs something has none of it before, or after. */
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
  return {
    code: isBefore ? 'tooEarly' : 'neverFollowed',
    ...aboutClaim(claim),
    culprits: moments.map(({ entry }) => entry.id),
    at: moments[0]?.entry.site,
    moments,
    needed: claim.needed[printsAs],
    first: first?.moment,
  };
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
