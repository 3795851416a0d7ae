import type { HeldClaim } from '../claim/kinds.ts';
import type { Diagnosis, Verdict } from '../explain/finding.ts';
import type { CapturedSite } from '../record/call-site.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import type { Level, Member } from '../record/member.ts';
import { inQuotes } from '../value/escape.ts';
import type { RuleLevels, RuleName } from './rules.ts';

/** Judged claims and notes of a ledger, and its rules. Changed only by the functions below. */
export interface Judgements {
  /** How strict the ledger is, and the doubles that are held to something else. */
  readonly levels: RuleLevels;
  readonly ofDoubles: Map<string, RuleLevels>;
  /** Every claim judged so far. */
  readonly judged: JudgedClaim[];
  /** Ids of the entries that the test looked at by itself. */
  readonly lookedAt: Set<number>;
  /** Findings of rules at the level `note`. */
  readonly noted: Diagnosis[];
  /** The calls that nothing answered. */
  readonly unplanned: { readonly member: Member; readonly entry: HeldEntry }[];
  /** The checks that threw. */
  readonly failedChecks: FailedCheck[];
  /** How many claims had been judged on all ledgers when this one was opened. */
  readonly judgedBefore: number;
  /** The assertions that the test's runner counted, if it counts any. */
  assertions: number | undefined;
  /** Whether the test asserts by means of its own, as far as its text tells. */
  assertsItself: (() => boolean) | undefined;
  /** The plans that could not be carried out, and the assertions that failed inside of one. */
  readonly brokenReplies: BrokenReply[];
  /** Whether a wait or a check has thrown already. */
  failed: boolean;
  /** The last verdict that a wait or a check has thrown, or that closing found; and its claims. */
  thrown: ThrownVerdict | undefined;
}

/** A reply that failed where the code under test may have swallowed the error. */
export interface BrokenReply {
  readonly entry: HeldEntry;
  readonly reason: unknown;
  readonly is: 'assertion' | 'plan';
}

/** A verdict that was thrown, and the claims it is on. */
export interface ThrownVerdict {
  readonly verdict: Verdict;
  readonly claims: readonly HeldClaim[];
}

/** A claim that was judged, and whether it held. */
export interface JudgedClaim {
  readonly claim: HeldClaim;
  readonly holds: boolean;
  /** The last tick that it was judged on; infinite if it was reached, and goes on being judged. */
  readonly upTo: number;
}

/** A check that threw. */
export interface FailedCheck {
  readonly claims: readonly HeldClaim[];
  readonly verdict: Verdict;
  readonly captured: CapturedSite | undefined;
  /** Whether the test looked at the verdict. */
  wasRead: boolean;
  /** Whether the same claims held later. */
  heldLater: boolean;
}

const judgements = new WeakMap<Journal, Judgements>();

/** How many claims were judged in this process, on any ledger. */
let judgedHere = 0;

/** Opens the judgments of a new ledger, with its rules. */
export function openJudgements(journal: Journal, levels: RuleLevels): void {
  judgements.set(journal, {
    levels,
    ofDoubles: new Map(),
    judged: [],
    lookedAt: new Set(),
    noted: [],
    unplanned: [],
    failedChecks: [],
    judgedBefore: judgedHere,
    assertions: undefined,
    assertsItself: undefined,
    brokenReplies: [],
    failed: false,
    thrown: undefined,
  });
}

export function judgementsOn(journal: Journal): Readonly<Judgements> {
  return openOn(journal);
}

function openOn(journal: Journal): Judgements {
  const known = judgements.get(journal);
  if (known === undefined) throw new RangeError(`ledger ${inQuotes(journal.name)} was not opened`);
  return known;
}

/** Holds a double to rules of its own. */
export function holdDouble(journal: Journal, double: string, levels: RuleLevels): void {
  const kept = openOn(journal);
  if (levels !== kept.levels) kept.ofDoubles.set(double, levels);
}

/** The rules that a double is held to. */
export function levelsFor(journal: Journal, double: string): RuleLevels {
  const { levels, ofDoubles } = judgementsOn(journal);
  return ofDoubles.get(double) ?? levels;
}

/** How strict a rule is on a double. */
export function levelOn<R extends RuleName>(
  journal: Journal,
  double: string,
  rule: R,
): RuleLevels[R] {
  return levelsFor(journal, double)[rule];
}

/** Whether a rule is at a level for the ledger, or for any of its doubles. */
export function isAnywhere(
  journal: Journal,
  rule: Exclude<RuleName, 'unusedPlan'>,
  levels: readonly Level[],
): boolean {
  const { levels: ofLedger, ofDoubles } = judgementsOn(journal);
  return [ofLedger, ...ofDoubles.values()].some((each) => levels.includes(each[rule]));
}

/** Notes that a claim was judged, on everything up to a tick. */
export function noteJudged(claim: HeldClaim, holds: boolean, upTo: number): void {
  judgedHere++;
  judgementsOn(claim.journal).judged.push({ claim, holds, upTo });
}

/** Notes a finding of a rule, for the summary. */
export function noteFound(journal: Journal, diagnosis: Diagnosis): void {
  judgementsOn(journal).noted.push(diagnosis);
}

/** Notes that the test looked at an entry by itself. */
export function noteLookedAt(journal: Journal, id: number): void {
  judgementsOn(journal).lookedAt.add(id);
}

/** Notes a call that nothing answered: it stays a finding though its caller swallows the error. */
export function noteUnplanned(member: Member, entry: HeldEntry): void {
  judgementsOn(member.journal).unplanned.push({ member, entry });
}

/** Notes that a verdict has been thrown, so closing does not throw a second one. */
export function noteFailed(journal: Journal, thrown?: ThrownVerdict): void {
  const kept = openOn(journal);
  kept.failed = true;
  kept.thrown = thrown ?? kept.thrown;
}

/** Notes the findings of closing, if nothing was thrown before. */
export function noteClosed(journal: Journal, found: ThrownVerdict): void {
  const kept = openOn(journal);
  kept.thrown ??= found;
}

/** Notes a check that threw; the returned function notes that its verdict was read. */
export function noteFailedCheck(
  journal: Journal,
  check: Omit<FailedCheck, 'wasRead' | 'heldLater'>,
): () => void {
  const kept = openOn(journal);
  const failed: FailedCheck = { ...check, wasRead: false, heldLater: false };
  noteFailed(journal, check);
  kept.failedChecks.push(failed);
  return () => {
    failed.wasRead = true;
  };
}

/** Notes how many assertions a runner has counted in the test, and whether it asserts by means of its own. */
export function noteAssertions(
  journal: Journal,
  counted: number | undefined,
  assertsItself: (() => boolean) | undefined,
): void {
  const kept = openOn(journal);
  kept.assertions = counted ?? kept.assertions;
  kept.assertsItself = assertsItself;
}

/** Whether a claim was judged since a ledger was opened, on whichever ledger. */
export function isJudgedSince(journal: Journal): boolean {
  return judgedHere > judgementsOn(journal).judgedBefore;
}

/** Whether the test has made an assertion, as far as that can be told. */
export function hasAsserted(journal: Journal): boolean {
  const { assertions, assertsItself } = judgementsOn(journal);
  return (assertions ?? 0) > 0 || assertsItself?.() === true;
}

/** Notes a reply that failed: it stays a finding though the code under test swallows the error. */
export function noteBrokenReply(journal: Journal, broken: BrokenReply): void {
  judgementsOn(journal).brokenReplies.push(broken);
}
