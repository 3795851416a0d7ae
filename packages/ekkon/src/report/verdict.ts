import type { FoundCause, FoundCauses } from '../explain/cause.ts';
import type { Diagnosis, Finding, Verdict } from '../explain/finding.ts';
import type { Since } from '../explain/since.ts';
import { whensIn } from '../explain/when.ts';
import type { Journal } from '../record/journal.ts';
import { lastPassOn } from '../rule/last-pass-on.ts';
import { changesSince } from '../since/since.ts';
import { causeOf } from './cause-words.ts';
import { messageOf } from './findings.ts';
import { verdictData } from './verdict-data.ts';

/** Told beside the findings. */
export interface Told extends Pick<Verdict, 'claims' | 'closing'> {
  /**
   * The reason why the test's body stopped early: a failed check, which has reported the changes since it last
   * passed, or an error of its own.
   */
  readonly stopped?: 'by a check' | 'by itself' | undefined;
}

/** All findings on a ledger, as one verdict: in the order of time, those of one cause together. */
export function makeVerdict(
  journal: Journal,
  found: readonly Diagnosis[],
  { claims, closing, stopped }: Told,
  causes: FoundCauses = noCauses,
): Verdict {
  const { ordered, sorted } = inTime(journal, found, causes.causes);
  const isTold = stopped === undefined ? found.length > 0 : stopped === 'by itself';
  const since = isTold ? sinceIt(journal, found, { closing, stopped }) : undefined;
  return {
    toJSON(this: Verdict) {
      return verdictData(this);
    },
    holds: found.length === 0,
    ledger: journal.name,
    closing,
    claims,
    findings: ordered.map(asFinding),
    causes: sorted.map((cause) => causeOf(cause, ordered)),
    ...(causes.isBounded ? { causesBounded: true } : {}),
    ...(since === undefined ? {} : { since }),
  };
}

const noCauses: FoundCauses = { causes: [], isBounded: false };

/** What changed since the test last passed, if that is known. */
function sinceIt(
  journal: Journal,
  found: readonly Diagnosis[],
  { closing, stopped }: Omit<Told, 'claims'>,
): Since | undefined {
  const { kept, checks } = lastPassOn(journal);
  if (kept === undefined) return undefined;
  const over = stopped === undefined ? 'over' : 'stopped';
  return changesSince(
    journal,
    kept,
    found,
    closing ? { is: over } : { is: 'checking', checksOver: checks.length },
  );
}

/** Findings and causes by when they happened, the findings of a cause one after the other. */
function inTime(
  journal: Journal,
  found: readonly Diagnosis[],
  causes: readonly FoundCause[],
): { readonly ordered: readonly Diagnosis[]; readonly sorted: readonly FoundCause[] } {
  if (found.length < 2) return { ordered: found, sorted: causes };
  const whens = whensIn(journal);
  const explained = new Set(causes.flatMap(({ explains }) => explains));
  const groups = [
    ...causes.map((cause) => ({
      cause,
      places: cause.explains,
      when: whens.ofCause(cause, diagnosesAt(found, cause.explains)),
    })),
    ...found.flatMap((diagnosis, at) =>
      explained.has(at)
        ? []
        : [{ cause: undefined, places: [at], when: whens.ofFinding(diagnosis) }],
    ),
  ].sort((one, other) => one.when - other.when || (one.places[0] ?? 0) - (other.places[0] ?? 0));
  const ordered: Diagnosis[] = [];
  const sorted: FoundCause[] = [];
  for (const { cause, places } of groups) {
    const first = ordered.length;
    ordered.push(...diagnosesAt(found, places));
    if (cause !== undefined) sorted.push({ ...cause, explains: places.map((_, at) => first + at) });
  }
  return { ordered, sorted };
}

function diagnosesAt(found: readonly Diagnosis[], places: readonly number[]): readonly Diagnosis[] {
  return places.flatMap((at) => found[at] ?? []);
}

/** A diagnosis with its sentence, which is made when it is asked for. */
function asFinding(diagnosis: Diagnosis): Finding {
  const differences =
    'nearest' in diagnosis
      ? (diagnosis.nearest[0]?.differences ?? [])
      : 'differences' in diagnosis
        ? diagnosis.differences
        : [];
  let message: string | undefined;
  const finding: Finding = {
    ...diagnosis,
    differences,
    get message() {
      message ??= messageOf(diagnosis);
      return message;
    },
  };
  // The claim leads to its whole ledger: nobody who prints a finding, or turns it into JSON, wants that.
  return Object.defineProperty(finding, 'of', { enumerable: false });
}
