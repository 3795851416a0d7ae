import { eventFit, type HeldEvent, isEnd, tickOf } from '../claim/event.ts';
import type { HeldPrecedence } from '../claim/precedence.ts';
import { within } from '../claim/window.ts';
import { printsAs } from '../record/prints-as.ts';
import { entryData } from '../record/recording.ts';
import type { Moment, PrecedenceDiagnosis } from './finding.ts';
import type { View } from './view.ts';

interface Occurrence {
  readonly tick: number;
  readonly moment: Moment;
}

/** Judges `onlyAfter` and `leadsTo`: each of what needs something has it before, or after. */
export function judgePrecedence(
  claim: HeldPrecedence,
  view: View,
): PrecedenceDiagnosis | undefined {
  const needing = occurrences(claim.needing, view);
  const needed = occurrences(claim.needed, view);
  const isBefore = claim.claim === 'onlyAfter';
  const first = needed[0];
  const last = needed[needed.length - 1];
  const faulty = needing.filter(({ tick }) =>
    isBefore ? first === undefined || first.tick >= tick : last === undefined || last.tick <= tick,
  );
  if (faulty.length === 0) return undefined;
  const moments = faulty.map(({ moment }) => moment);
  return {
    code: isBefore ? 'tooEarly' : 'neverFollowed',
    claim: claim.notation,
    culprits: moments.map(({ entry }) => entry.id),
    at: moments[0]?.entry.site,
    moments,
    needed: claim.needed[printsAs],
    first: first?.moment,
  };
}

function occurrences(event: HeldEvent, { record, window }: View): readonly Occurrence[] {
  return record.entries
    .filter((entry) => eventFit(event, entry) === 'fits' && within(window, tickOf(event, entry)))
    .map((entry) => ({
      tick: tickOf(event, entry),
      moment: { entry: entryData(entry), end: isEnd(event) },
    }))
    .sort((one, other) => one.tick - other.tick);
}
