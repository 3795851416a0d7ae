import type { HeldClaim } from '../claim/claim.ts';
import { countFor } from '../claim/count.ts';
import { type Accounted, accountedOnce } from '../explain/accounted.ts';
import { aboutEntry } from '../explain/diagnosis.ts';
import { explainCount } from '../explain/explain-count.ts';
import { explainUnplanned } from '../explain/explain-unplanned.ts';
import type { Diagnosis, SlotDiagnosis, Verdict } from '../explain/finding.ts';
import type { FailedStreamDiagnosis, ReleaseDiagnosis } from '../explain/rule-finding.ts';
import type { HeldPlan } from '../plan/plan.ts';
import { readSite } from '../record/call-site.ts';
import type { LedgerRecord, Member } from '../record/ledger-record.ts';
import { asFinding, judgeClaims } from '../report/verdict.ts';
import { brokenAtClose } from '../rule/at-close.ts';
import type { ClaimWait } from '../wait/claim-wait.ts';

/**
 * Closes a ledger: ends what is followed and waited for, puts every member back, the last replaced first,
 * judges what is standing and applies the rules. A second time it does nothing.
 *
 * @param bodyFailed whether the test has failed already: then only what could explain that is told
 */
export function closeRecord(record: LedgerRecord, bodyFailed = false): Verdict {
  const released = release(record);
  if (record.closed) return verdictAtClose(record, 0, []);
  record.closed = true;
  const reached = endWaits(record);
  const standing = [
    ...new Set([
      ...(record.standing as readonly HeldClaim[]),
      ...reached.map(({ claim }) => claim),
    ]),
  ];
  const found = [...findingsAtClose(record, standing, reached), ...released, ...putBack(record)];
  const told = bodyFailed ? found.filter((each) => couldExplain(each, standing)) : found;
  return verdictAtClose(record, standing.length, told);
}

function verdictAtClose(
  { name }: LedgerRecord,
  claims: number,
  told: readonly Diagnosis[],
): Verdict {
  return {
    holds: told.length === 0,
    ledger: name,
    closing: true,
    claims,
    findings: told.map(asFinding),
  };
}

type BrokenReach = NonNullable<ClaimWait['broken']>;

/** Ends what is waited for; gives the claims that were reached and do not hold any more. */
function endWaits(record: LedgerRecord): readonly BrokenReach[] {
  const waits = record.waits as readonly ClaimWait[];
  for (const wait of waits) wait.close();
  for (const tell of record.whenSettled) tell();
  record.hearing = undefined;
  return waits.flatMap(({ broken }) => broken ?? []);
}

function findingsAtClose(
  record: LedgerRecord,
  standing: readonly HeldClaim[],
  reached: readonly BrokenReach[],
): readonly Diagnosis[] {
  const judged = judgeClaims(standing, record).map((diagnosis) => {
    const reach = reached.find(({ claim }) => claim.notation === diagnosis.claim);
    return reach === undefined ? diagnosis : { ...diagnosis, reachedAt: reach.reachedAt };
  });
  const unmet = unmetPlans(record);
  const accounted = accountedOnce(record);
  const broken = brokenAtClose(record, accounted);
  for (const { level, diagnosis } of broken) if (level === 'note') record.noted.push(diagnosis);
  return [
    ...unplanned(record),
    ...judged,
    ...unmet,
    ...failedStreams(record, accounted),
    ...broken.filter(({ level }) => level === 'fail').map(({ diagnosis }) => diagnosis),
  ];
}

/** Whether a finding could be the reason for which a test failed, and not only come of that. */
function couldExplain(diagnosis: Diagnosis, standing: readonly HeldClaim[]): boolean {
  switch (diagnosis.code) {
    case 'unplannedCall':
    case 'unknownMember':
    case 'surplusCall':
    case 'unfinishedCall':
    case 'changedArgument':
    case 'failedStream':
    case 'notReleased':
    case 'changedSlot':
      return true;
    case 'missingCall':
    case 'unusedPlan': {
      // A call that came near is one that should have fitted; where there is none, the test did not get
      // there, unless it is a plan that requires the call.
      const isRequired =
        diagnosis.code === 'missingCall' &&
        standing.every(({ notation }) => notation !== diagnosis.claim);
      return isRequired || diagnosis.nearest.length > 0;
    }
    default:
      return false;
  }
}

/** Ends what is followed, while the ledger still records what a source has to say to that. */
function release({ streams }: LedgerRecord): readonly ReleaseDiagnosis[] {
  const stuck: ReleaseDiagnosis[] = [];
  for (const stream of [...streams].reverse()) {
    const { release: end } = stream;
    stream.release = undefined;
    try {
      end?.();
    } catch (reason) {
      stuck.push({
        code: 'notReleased',
        claim: 'everything is put back',
        culprits: [],
        at: undefined,
        stream: stream.label,
        reason,
      });
    }
  }
  return stuck;
}

function putBack({ slots }: LedgerRecord): readonly SlotDiagnosis[] {
  const changed: SlotDiagnosis[] = [];
  for (const slot of [...slots].reverse()) {
    if (slot.restore()) continue;
    changed.push({
      code: 'changedSlot',
      claim: 'everything is put back',
      culprits: [],
      at: undefined,
      member: slot.member,
    });
  }
  return changed;
}

function unplanned(record: LedgerRecord): readonly Diagnosis[] {
  return record.unplanned.map(({ member, entry }) =>
    explainUnplanned(member as Member<HeldPlan>, entry),
  );
}

/** Streams that failed, where no claim speaks of it: nobody else would hear of the reason. */
function failedStreams(
  { entries }: LedgerRecord,
  accounted: Accounted,
): readonly FailedStreamDiagnosis[] {
  return entries
    .filter(({ kind, id }) => kind === 'failure' && !accounted().has(id))
    .map((entry) => ({
      code: 'failedStream',
      claim: 'no stream fails unnoticed',
      ...aboutEntry(entry),
    }));
}

/** Counted plans that answered fewer calls than they require, or were called once more than that. */
function unmetPlans(record: LedgerRecord): readonly Diagnosis[] {
  const plans = record.members.flatMap((member) => (member as Member<HeldPlan>).plans);
  return plans.flatMap(({ counted, answered, captured }) => {
    if (counted === undefined) return [];
    const { least, most } = counted.range;
    if (answered.length >= least && answered.length <= most) return [];
    const { undecided } = countFor(counted.held, record.entries);
    const diagnosis = explainCount(counted, record.entries, {
      fitting: answered,
      undecided: answered.length > most ? [] : undecided,
    });
    const plannedAt = readSite(captured);
    return [{ ...diagnosis, plannedAt, at: diagnosis.at ?? plannedAt }];
  });
}
