import { type HeldClaim, partsOf, sameClaim } from '../claim/kinds.ts';
import type { Evidence } from '../claim/parts.ts';
import { aboutClaim, type NearEntry } from '../explain/diagnosis.ts';
import type { Diagnosis } from '../explain/finding.ts';
import { nearestFirst } from '../explain/nearest.ts';
import { makeEvidence } from '../judge/evidence.ts';
import { type Judgement, judge } from '../judge/judge.ts';
import { emptyIn } from '../match/asked-empty.ts';
import { callsOf, type HeldEvent, journalOf, targetOf } from '../pattern/event.ts';
import { speaksOf } from '../pattern/fit.ts';
import { plannedIn } from '../plan/plan.ts';
import { type CapturedSite, readSite } from '../record/call-site.ts';
import { eventsOf } from '../record/events.ts';
import type { Journal } from '../record/journal.ts';
import { isMark } from '../record/mark.ts';
import { siteOf } from '../record/slip.ts';
import { printsAs } from '../value/prints-as.ts';
import { accountedOn } from './accounts.ts';
import { levelForClaim } from './broken.ts';
import { judgementsOn, noteFound, noteJudged } from './judgements.ts';
import { misspelled } from './misspelled.ts';

/** The evidence for claims on a ledger, as it stands. */
export function evidenceOn(journal: Journal): Evidence {
  return makeEvidence(
    journal,
    () => accountedOn(journal),
    () => plannedIn(journal),
  );
}

/** Judges claims of one ledger, applies the rules on claims, and keeps note that they were judged. */
export function judgeAndNote(claims: readonly HeldClaim[], journal: Journal): readonly Diagnosis[] {
  return noteJudgements(judge(claims, evidenceOn(journal)), journal);
}

/** Applies the rules on claims to judged claims, and notes that they were judged. */
export function noteJudgements(
  judgements: readonly Judgement[],
  journal: Journal,
): readonly Diagnosis[] {
  const upTo = journal.tick;
  return judgements.flatMap((judgement) => {
    const found = foundIn(judgement);
    noteJudged(judgement.claim, found === undefined, upTo);
    if (found === undefined) return [];
    const claimedAt = siteOf(journal, judgement.claim);
    return [{ ...found, at: found.at ?? claimedAt, claimedAt }];
  });
}

/** The fault of a claim: it does not hold, or it holds for no reason. */
function foundIn({ claim, diagnosis, absent }: Judgement): Diagnosis | undefined {
  if (diagnosis !== undefined) return diagnosis;
  for (const [rule, find] of [
    ['alwaysTrueClaim', () => alwaysTrue(claim)],
    ['vacuousClaim', () => vacuous(claim, absent) ?? ofNoItems(claim) ?? misspelled(claim)],
  ] as const) {
    const level = levelForClaim(rule, claim);
    const found = level === 'allow' ? undefined : find();
    if (found === undefined) continue;
    if (level === 'note') noteFound(claim.journal, found);
    if (level === 'fail') return found;
  }
  return undefined;
}

function alwaysTrue(claim: HeldClaim): Diagnosis | undefined {
  if (!partsOf(claim).isAlwaysTrue(claim)) return undefined;
  return { code: 'alwaysTrueClaim', ...aboutClaim(claim), culprits: [], at: undefined };
}

/** A claim that holds only because something never occurred, or because nothing came after a mark. */
export function vacuous(claim: HeldClaim, absent: Judgement['absent']): Diagnosis | undefined {
  const never = absent?.[printsAs] ?? lateMark(claim);
  if (never === undefined) return undefined;
  const near = absent === undefined || isMark(absent) ? undefined : nearTo(absent);
  return {
    code: 'vacuousClaim',
    ...aboutClaim(claim),
    culprits: near === undefined ? [] : [near.entry.id],
    at: near?.entry.site,
    never,
    near,
  };
}

/** A claim on all the items of a list, of which every list was empty. */
function ofNoItems(claim: HeldClaim): Diagnosis | undefined {
  const found = partsOf(claim)
    .uses(claim)
    .map((event) => emptyIn(callsOf(event).claimed?.items))
    .find((each) => each !== undefined);
  if (found === undefined) return undefined;
  const never = `an item for ${(found as { readonly [printsAs]: string })[printsAs]}`;
  const about = { culprits: [], at: undefined, near: undefined };
  return { code: 'vacuousClaim', ...aboutClaim(claim), ...about, never };
}

/** A call that does not match the event that never occurred, but may be the intended one. */
function nearTo(event: HeldEvent): NearEntry | undefined {
  const { entries } = journalOf(event);
  const calls = entries.filter((entry) => speaksOf(callsOf(event), entry));
  return nearestFirst(event, calls, entries)[0];
}

/** The missing events, if a stretch begins with a mark after which nothing was recorded. */
function lateMark(claim: HeldClaim): string | undefined {
  const from = partsOf(claim).begins?.(claim);
  if (from === undefined || !isMark(from)) return undefined;
  const events = eventsOf(claim.journal);
  for (let at = from.tick; at < events.length; at++)
    if (events[at] !== undefined && !isMark(events[at])) return undefined;
  return `anything after ${from[printsAs]}`;
}

/**
 * Notes that claims hold now: a check of the same claims that threw earlier was asking until they did. At one
 * place in the test, claims of the same kinds on the same members are the same, whatever functions are in them.
 */
export function noteHolding(
  claims: readonly HeldClaim[],
  journal: Journal,
  captured: CapturedSite | undefined,
): void {
  for (const failed of judgementsOn(journal).failedChecks) {
    const isSame = failed.claims.every((claim) => claims.some((other) => sameClaim(claim, other)));
    if (isSame || (isAtPlace(failed.captured, captured) && areAlike(failed.claims, claims)))
      failed.heldLater = true;
  }
}

function isAtPlace(one: CapturedSite | undefined, other: CapturedSite | undefined): boolean {
  const [here, there] = [readSite(one), readSite(other)];
  if (here === undefined || there === undefined) return false;
  return here.file === there.file && here.line === there.line && here.column === there.column;
}

function areAlike(ones: readonly HeldClaim[], others: readonly HeldClaim[]): boolean {
  return ones.length === others.length && ones.every((one, at) => isAlike(one, others[at]));
}

function isAlike(one: HeldClaim, other: HeldClaim | undefined): boolean {
  if (other === undefined || one.kind !== other.kind) return false;
  const [heard, others] = [one, other].map((claim) => partsOf(claim).hears(claim).events);
  return (heard ?? []).every((event, at) => {
    const there = others?.[at];
    return (event && targetOf(event)) === (there && targetOf(there));
  });
}
