import { causesOf } from '../alter/causes.ts';
import { explainWrongCount } from '../claim/explain-count.ts';
import type { HeldClaim } from '../claim/kinds.ts';
import { noteClaimUsed } from '../claim/make-claim.ts';
import type { Evidence } from '../claim/parts.ts';
import { doublesOn } from '../double/doubles.ts';
import type { FoundCauses } from '../explain/cause.ts';
import { aboutEntry } from '../explain/diagnosis.ts';
import type { Diagnosis, SlotDiagnosis, Verdict } from '../explain/finding.ts';
import type { LateCallDiagnosis, ReleaseDiagnosis } from '../explain/rule-finding.ts';
import { makeEvidence } from '../judge/evidence.ts';
import { type Judgement, judge } from '../judge/judge.ts';
import { callsDifferences } from '../pattern/fit.ts';
import { inRange } from '../pattern/multiplicity.ts';
import { plansIn, printPlan } from '../plan/plan.ts';
import { readSite } from '../record/call-site.ts';
import { nextTurn } from '../record/clock.ts';
import { doublesNamed } from '../record/double-names.ts';
import { forEachJournal } from '../record/each-journal.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import { couldExplain, messageOf } from '../report/findings.ts';
import { makeVerdict } from '../report/verdict.ts';
import { accountedOn } from '../rule/accounts.ts';
import { evidenceOn, judgeAndNote, noteJudgements } from '../rule/at-check.ts';
import { emptyReplies } from '../rule/empty-reply.ts';
import { explainUnplanned } from '../rule/explain-unplanned.ts';
import { judgementsOn, levelOn, noteClosed, noteFound } from '../rule/judgements.ts';
import type { Accounted } from '../rule/rule.ts';
import { brokenAtClose } from '../rule/rules.ts';
import { type EndedWaits, endWaits } from '../wait/waits.ts';

/**
 * Closes a ledger: ends streams, restores every member, the last replaced first, ends waits, then judges standing
 * claims and applies the rules. A second call does nothing.
 *
 * @param passed whether the test's body has passed, if that is known; if it has failed already, only findings that
 * could explain that are reported
 * @param reason the body's error, if that is known
 */
export function closeJournal(
  journal: Journal,
  passed: boolean | undefined,
  reason?: unknown,
): Verdict {
  if (journal.closed) return makeVerdict(journal, [], { claims: 0, closing: true });
  release(journal);
  journal.closed = true;
  journal.late = (entry) => judgeLate(journal, entry);
  journal.keeping?.close();
  const putBack = putAllBack(journal);
  const ended = endWaits(journal);
  // A wait of a failed test may be the reason: its time was over. A failed check is a reason by itself.
  const isTold = passed === false && isFailedCheck(reason);
  const open: EndedWaits['open'] = passed === false && !isTold ? ended.open : new Map();
  const waits = { ...ended, open, toJudge: [...ended.toJudge, ...open.keys()] };
  const found = [...findingsAtClose(journal, waits, passed), ...notReleased(journal), ...putBack];
  const told =
    passed === false
      ? [
          ...emptyReplies(journal, reason),
          ...found.filter((each) => couldExplain(each) && !(isTold && comesOfStopping(each))),
        ]
      : found;
  // The search for causes is loaded at the first failure.
  const causes = told.length === 0 ? undefined : causesOf(waits.toJudge, told, evidenceOn(journal));
  const by = isTold ? ('by a check' as const) : ('by itself' as const);
  const stopped = passed === false ? by : undefined;
  const counts = { claims: waits.toJudge.length, closing: true, stopped };
  const verdict = makeVerdict(journal, told, counts, causes);
  if (!verdict.holds) noteClosed(journal, { verdict, claims: waits.toJudge });
  return verdict;
}

/** Whether a body failed on claims that do not hold; a runner may have made a plain object of the error. */
function isFailedCheck(reason: unknown): boolean {
  return (
    typeof reason === 'object' && reason !== null && Reflect.get(reason, 'name') === 'ClaimError'
  );
}

/** Whether a finding is a consequence of a body that stopped: it could not settle its calls any more. */
function comesOfStopping({ code }: Diagnosis): boolean {
  return code === 'unfinishedCall';
}

/** The last entry of a record that is cut off, or that it has none. */
export type CutAfter = HeldEntry | 'none';

/** The judgment of claims on a record of which only a part is at hand. */
export interface JudgedBefore {
  readonly judgements: readonly Judgement[];
  readonly accounted: Accounted;
  /** How many entries nothing covers; `undefined` if nobody needs the number. */
  readonly unclaimedCount: number | undefined;
  /** The part in which causes are looked for, and up to which tick it has what a claim hears. */
  readonly around: (Pick<Evidence, 'until'> & { readonly journal: Journal }) | undefined;
}

/**
 * Judges claims on a loaded record, and applies the rules as closing its ledger would.
 *
 * @param before their results, if they were judged while it was read
 * @param last the last entry of a record that is cut off, or that there is none
 */
export function judgeRead(
  journal: Journal,
  claims: readonly HeldClaim[],
  { before, last }: { readonly before?: JudgedBefore; readonly last?: CutAfter | undefined } = {},
): Verdict {
  journal.closed = true;
  const { names } = doublesOn(journal);
  for (const name of doublesNamed(journal).keys()) names.set(name, name.replace(/~\d+$/, ''));
  for (const claim of claims) noteClaimUsed(claim);
  const none = { reachedAt: new Map(), open: new Map(), unawaited: [] };
  const cut = last === undefined ? [] : [cutOff(last)];
  const found = [...cut, ...findingsAtClose(journal, { toJudge: claims, ...none }, true, before)];
  const causes =
    before === undefined
      ? causesOf(claims, found, evidenceOn(journal))
      : causesAround(before, found);
  return makeVerdict(journal, found, { claims: claims.length, closing: false }, causes);
}

function cutOff(last: CutAfter): Diagnosis {
  const about = { code: 'cutOff', claim: 'whole record' } as const;
  return last === 'none'
    ? { ...about, of: undefined, culprits: [], at: undefined, entry: undefined }
    : { ...about, ...aboutEntry(last), culprits: [] };
}

/** Causes in a part of a record: those claims have a say that are judged on it as they are on the whole. */
function causesAround(
  { judgements, around }: JudgedBefore,
  found: readonly Diagnosis[],
): FoundCauses | undefined {
  if (around === undefined) return undefined;
  const bare = makeEvidence(
    around.journal,
    () => new Set(),
    () => [],
  );
  const evidence = { ...bare, ...around };
  const claims = judgements.filter(({ claim }) => claim.ofWhole !== true);
  const here = judge(
    claims.map(({ claim }) => claim),
    evidence,
  );
  const agreeing = claims.filter(({ judged }, at) => here[at]?.judged === judged);
  const heard = new Set(agreeing.map(({ claim }) => claim));
  const told = found.map((diagnosis) =>
    heard.has(diagnosis.of as HeldClaim) ? diagnosis : { ...diagnosis, of: undefined },
  );
  return causesOf(
    agreeing.map(({ claim }) => claim),
    told,
    evidence,
  );
}

function findingsAtClose(
  journal: Journal,
  { toJudge, reachedAt, open, unawaited }: EndedWaits,
  passed: boolean | undefined,
  before?: JudgedBefore,
): readonly Diagnosis[] {
  const found =
    before === undefined
      ? judgeAndNote(toJudge, journal)
      : noteJudgements(before.judgements, journal);
  const judged = found.map((diagnosis) => {
    const of = diagnosis.of as HeldClaim;
    if (reachedAt.has(of)) return { ...diagnosis, reachedAt: reachedAt.get(of) };
    return open.has(of) ? { ...diagnosis, waitedAt: open.get(of) } : diagnosis;
  });
  const { streams, names } = doublesOn(journal);
  const accounted = () => before?.accounted ?? accountedOn(journal);
  const doubles = names;
  const asked = { journal, accounted, passed, doubles, streams, unawaited };
  const unclaimedCount = before?.unclaimedCount;
  const closing = unclaimedCount === undefined ? asked : { ...asked, unclaimedCount };
  const broken = brokenAtClose(closing);
  for (const { level, diagnosis } of broken) if (level === 'note') noteFound(journal, diagnosis);
  return [
    ...judgementsOn(journal).unplanned.map(({ member, entry }) => explainUnplanned(member, entry)),
    ...judged,
    ...unmetPlans(journal),
    ...undecidedPlans(journal),
    ...brokenReplies(journal),
    ...failedStreams(journal, accounted),
    ...broken.filter(({ level }) => level === 'fail').map(({ diagnosis }) => diagnosis),
  ];
}

/** The streams of a ledger that could not be ended. */
const notReleased: (journal: Journal) => ReleaseDiagnosis[] = forEachJournal(() => []);

/**
 * Ends the streams of a ledger, and waits one turn if sources clean up asynchronously: an error until then is a
 * finding of its close, a later one a note.
 */
export async function endStreams(journal: Journal): Promise<void> {
  if (release(journal)) await new Promise<void>(nextTurn);
}

/**
 * Ends the streams while the ledger still records the reaction of a source.
 *
 * @returns whether some source is still cleaning up
 */
function release(journal: Journal): boolean {
  let isUnderWay = false;
  for (const stream of [...doublesOn(journal).streams].reverse()) {
    const { release: end, label } = stream;
    stream.release = undefined;
    const note = (reason: unknown): void => {
      const about = { claim: 'not put back', of: undefined, culprits: [], at: undefined };
      const found = { code: 'notReleased', ...about, stream: label, reason } as const;
      if (journal.closed) noteFound(journal, found);
      else notReleased(journal).push(found);
    };
    try {
      const ending = end?.();
      if (!(ending instanceof Promise)) continue;
      isUnderWay = true;
      ending.catch(note);
    } catch (reason) {
      note(reason);
    }
  }
  return isUnderWay;
}

/** Puts back each slot on its own, whatever another one throws. */
function putAllBack(journal: Journal): readonly SlotDiagnosis[] {
  return [...doublesOn(journal).slots].reverse().flatMap(({ member, restore }) => {
    const about = { claim: 'not put back', of: undefined, culprits: [], at: undefined };
    try {
      return restore() ? [] : [{ code: 'changedSlot', ...about, member }];
    } catch (threw) {
      // A proxy that throws when its property is put back.
      return [{ code: 'changedSlot', ...about, member, threw }];
    }
  });
}

/** Streams that failed, if no claim mentions that: nobody else would learn the reason. */
function failedStreams(journal: Journal, accounted: () => Accounted): readonly Diagnosis[] {
  const failures = journal.entries.filter(({ kind }) => kind === 'failure');
  return failures
    .filter(({ id }) => !accounted().has(id))
    .map((entry) => ({
      code: 'failedStream',
      claim: 'unchecked stream failure',
      ...aboutEntry(entry),
    }));
}

/** Counted plans that answered fewer calls than they require, or were called once more than that. */
function unmetPlans(journal: Journal): readonly Diagnosis[] {
  return plansIn(journal).flatMap(({ counted, answered, captured }) => {
    if (counted === undefined || inRange(counted.range, answered.length)) return [];
    const plannedAt = readSite(captured);
    const diagnosis = explainWrongCount(counted, journal.entries, answered);
    return [{ ...diagnosis, isPlan: true, plannedAt, at: diagnosis.at ?? plannedAt }];
  });
}

/** Replies that failed inside of the code under test: whether it swallowed the error or not. */
function brokenReplies(journal: Journal): readonly Diagnosis[] {
  return judgementsOn(journal).brokenReplies.map(({ entry, is, reason }) => ({
    code: 'brokenReply',
    claim: is === 'assertion' ? 'failed assertion' : 'broken plan',
    ...aboutEntry(entry),
    is,
    reason,
  }));
}

/** Plans that may have been meant for a call, and did not answer it. */
function undecidedPlans(journal: Journal): readonly Diagnosis[] {
  return plansIn(journal).flatMap((plan) =>
    [...new Set(plan.undecided)].slice(0, 1).map((entry) => ({
      code: 'undecidedPlan',
      claim: 'undecided plan',
      ...aboutEntry(entry),
      plan: printPlan(plan),
      differences: callsDifferences(plan.pattern, entry),
    })),
  );
}

/** The places that were told that they called after a ledger was closed, each with the member. */
const toldLate: (journal: Journal) => Set<string> = forEachJournal(() => new Set());

/**
 * Applies the rule on calls after a ledger was closed. The test has ended, so only the caller can still be told, and
 * it is told once: an interval that was not stopped calls again and again.
 *
 * @throws TypeError if the rule is to fail
 */
function judgeLate(journal: Journal, held: HeldEntry): void {
  const level = levelOn(journal, held.target.double, 'callAfterClose');
  if (level === 'allow') return;
  const diagnosis: LateCallDiagnosis = {
    code: 'callAfterClose',
    claim: 'rule callAfterClose',
    ...aboutEntry(held),
    ledger: journal.name,
  };
  const { file, line } = diagnosis.at ?? {};
  const caller = `${diagnosis.entry.label} ${file}:${line}`;
  if (toldLate(journal).has(caller)) return;
  toldLate(journal).add(caller);
  if (level === 'note') noteFound(journal, diagnosis);
  else throw new TypeError(`rule callAfterClose: ${messageOf(diagnosis)}`);
}
