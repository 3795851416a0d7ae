import { statSync } from 'node:fs';
import { type HeldClaim, innerOf } from '../claim/kinds.ts';
import type { HeldClaimBase } from '../claim/parts.ts';
import { readDeclarations, readLedgerFile, toldIn } from '../file/read-file.ts';
import { NotationError } from '../grammar/notation-error.ts';
import { claimsIn } from '../grammar/parse-claims.ts';
import { addUsed } from '../judge/accounting.ts';
import { makeBlame } from '../judge/blame.ts';
import { type Judgement, wantingOf } from '../judge/judge.ts';
import { type CutAfter, type JudgedBefore, judgeRead } from '../ledger/close.ts';
import type { Excerpt } from '../offline/excerpt.ts';
import { Excerpts } from '../offline/excerpts.ts';
import { inOrder } from '../offline/in-order.ts';
import { type ClaimsText, heldClaims, judgeJournal, leaveOpen } from '../offline/judge-record.ts';
import { StreamJudge } from '../offline/stream-judge.ts';
import type { Claim } from '../record/claim-type.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import type { Told } from '../record/read-lines.ts';
import type { JudgedLedger } from '../report/judged.ts';
import { openJudgements } from '../rule/judgements.ts';
import type { Accounted } from '../rule/rule.ts';
import type { RuleLevels } from '../rule/rules.ts';
import { progressOf } from './progress.ts';
import { type UnheardName, unheardNames } from './unheard-names.ts';

/** What is looked at to say why a claim does not hold. */
interface Limits {
  /** The entries of the largest record that is read into memory for it. */
  readonly entries: number;
  /** How often entries are compared with claims that lack something, beside once each, while all claims are judged. */
  readonly seeks: number;
}

const usualLimits: Limits = { entries: 20_000, seeks: 10_000 };

/** The largest file that is read into memory to say why a claim does not hold. */
const bytesInMemory = 64 << 20;

/** A ledger file that was judged, whether it is cut off, and likely slips in its claims. */
export type JudgedFile = JudgedLedger & {
  readonly truncated: boolean;
  readonly unheard: readonly UnheardName[];
};

/**
 * Judges claims on a ledger file while it is read, in memory that does not grow with it, with an excerpt for each of
 * them. If some do not hold, it reads a small file again, into memory; a large one if too much lacked for long to look
 * for what comes near. Only claims that hear very much, never twice in the same state, before they are lost need a
 * large record in memory.
 *
 * @param allowsCut whether a file that is cut off is judged as far as it goes; else that is a finding
 */
export function judgeFile(
  path: string,
  shown: string,
  claims: ClaimsText,
  levels: RuleLevels,
  allowsCut: boolean,
  limits = usualLimits,
): JudgedFile {
  const declared = readDeclarations(path);
  openJudgements(declared, levels);
  const streamed = claimsOn(declared, claims);
  // A double that no line declares is known from its entries alone.
  const asksAll = levels.unclaimedCall !== 'allow';
  const all = streamed === undefined ? [] : heldClaims(streamed);
  if (streamed === undefined || all.length === 0)
    return judgeWhole(path, shown, claims, levels, allowsCut);
  const blame = makeBlame(all, declared, () => false);
  const excerpts = new Excerpts(all, blame, limits.seeks);
  const stream = new StreamJudge(all, asksAll, excerpts);
  const tellStream: Tell = (entry, end, tick) => stream.tell(entry, end, tick);
  const { truncated, last } = readInto(path, shown, declared, tellStream);
  const { accounts } = stream;
  if (accounts.isDeferred && !accounts.isCertain)
    return judgeWhole(path, shown, claims, levels, allowsCut);
  const unexplained = stream.unexplained(declared);
  if (
    unexplained.length > 0 &&
    stream.entries <= limits.entries &&
    statSync(path).size <= bytesInMemory
  )
    return judgeWhole(path, shown, claims, levels, allowsCut);
  if (accounts.isDeferred) accounts.decideAll();
  const isAgain = !excerpts.isWhole && unexplained.length > 0;
  const explaining = isAgain ? new Excerpts(unexplained, blame) : excerpts;
  if (isAgain || accounts.asksAgain)
    readAgain(path, shown, declared, (entry, end, tick) => {
      accounts.comesAgain(entry, end);
      if (isAgain) explaining.tell(entry, end, tick);
      return isAgain || accounts.asksAgain;
    });
  const kept = explaining.all.filter(({ claim }) => unexplained.includes(claim));
  const sample = stream.sample();
  replaceEntries(declared, sample);
  const told = explained(declared, all, stream, kept);
  replaceEntries(declared, inOrder([...sample, ...(told?.around?.journal.entries ?? [])]));
  const accounted = accountedIn(stream, all, declared);
  if (told === undefined || accounted === undefined)
    return judgeWhole(path, shown, claims, levels, allowsCut);
  leaveOpen(declared);
  const unclaimedCount = asksAll ? stream.accounts.unclaimedCount : undefined;
  const before = { ...told, accounted, unclaimedCount };
  const verdict = judgeRead(declared, all, { before, last: allowsCut ? undefined : last });
  const size = verdict.holds ? {} : { entries: stream.entries };
  const unheard = unheardNames(all, stream.counts.keys());
  return { file: shown, claims: streamed, verdict: { ...verdict, ...size }, truncated, unheard };
}

type Tell<T = void> = (entry: HeldEntry, end: boolean, tick: number) => T;

/** Reads a file from its beginning, and tells each event; whether it is cut off, and after which entry. */
function readInto(
  path: string,
  shown: string,
  declared: Journal,
  tell: Tell,
): { readonly truncated: boolean; readonly last: CutAfter | undefined } {
  let last: CutAfter = 'none';
  declared.tick = 0;
  const progress = progressOf(shown);
  const hear = (told: Told) => {
    progress.line();
    if (told?.is === 'begins') last = told.entry;
    pass(told, tell);
  };
  const { truncated } = readLedgerFile(path, hear, declared);
  progress.done();
  return { truncated, last: truncated ? last : undefined };
}

/** Reads a file once more, and tells each event until no more are wanted. */
function readAgain(path: string, shown: string, declared: Journal, wantsMore: Tell<boolean>): void {
  const { tick } = declared;
  declared.tick = 0;
  const progress = progressOf(shown);
  for (const told of toldIn(path, declared)) {
    progress.line();
    if (pass(told, wantsMore) === false) break;
  }
  declared.tick = tick;
  progress.done();
}

function pass<T>(told: Told, tell: Tell<T>): T | undefined {
  if (told === undefined || told.is === 'mark') return undefined;
  const { entry, is } = told;
  return tell(entry, is === 'ends', is === 'ends' ? (entry.ended ?? 0) : entry.began);
}

/** The result of each claim, and the part of the record in which causes are looked for. */
interface Explained {
  readonly judgements: readonly Judgement[];
  readonly around: JudgedBefore['around'];
}

/** The result of each claim, with the reason if it does not hold; `undefined` if that takes the whole record. */
function explained(
  declared: Journal,
  claims: readonly HeldClaim[],
  stream: StreamJudge,
  excerpts: readonly Excerpt[],
): Explained | undefined {
  const judgements = stream.judgements(declared);
  if (excerpts.length === 0) return { judgements, around: undefined };
  const byClaim = new Map(excerpts.map((excerpt) => [excerpt.claim, excerpt]));
  const kept = new Map(excerpts.map((excerpt) => [excerpt, excerpt.entries()]));
  const journal = { ...declared, entries: inOrder([...kept.values()].flatMap((its) => its ?? [])) };
  const failing = new Set(
    judgements.filter(({ judged }) => judged === 'fails').map(({ claim }) => claim),
  );
  const blame = makeBlame(claims, journal, (claim) => failing.has(claim));
  const others = { wanted: claims.map(wantingOf), blame };
  const told = judgements.map((judgement) => {
    const { claim, judged } = judgement;
    const excerpt = byClaim.get(claim);
    if (excerpt === undefined) return judgement;
    const entries = kept.get(excerpt);
    return entries && excerpt.judgement({ ...declared, entries }, judged, stream.counts, others);
  });
  if (!told.every((each) => each !== undefined)) return undefined;
  const until = (claim: HeldClaimBase) => byClaim.get(claim as HeldClaim)?.endsAt;
  return { judgements: told, around: { journal, until } };
}

function replaceEntries({ entries }: Journal, by: readonly HeldEntry[]): void {
  entries.length = 0;
  for (const entry of by) entries.push(entry);
}

/** The entries that claims cover, if anybody needs them; `undefined` if that takes the record itself. */
function accountedIn(
  stream: StreamJudge,
  claims: readonly HeldClaim[],
  declared: Journal,
): Accounted | undefined {
  const { accounts } = stream;
  const size = stream.hasUsed ? 1 : 0;
  if (accounts.isAsked) return { has: (id) => accounts.has(id), size };
  const used = new Set<number>();
  if (declared.entries.some(({ kind }) => kind === 'failure')) {
    if (claims.some((claim) => innerOf(claim) !== undefined)) return undefined;
    for (const claim of claims) addUsed(claim, declared, declared.tick, (id) => used.add(id));
  }
  return { has: (id) => used.has(id), size };
}

/**
 * The claims, read against the declarations of a file; `undefined` if they mention something that the file does not
 * declare.
 */
function claimsOn(declared: Journal, { text, file }: ClaimsText): readonly Claim[] | undefined {
  try {
    return claimsIn(text, declared, file);
  } catch (error) {
    if (error instanceof NotationError) return undefined;
    throw error;
  }
}

/** Judges claims on a record in memory. */
export function judgeRecord(
  journal: Journal,
  shown: string,
  claims: ClaimsText,
  levels: RuleLevels,
  isCut: boolean,
): Omit<JudgedFile, 'truncated'> {
  const last = isCut ? (journal.entries.at(-1) ?? 'none') : undefined;
  const judged = judgeJournal(journal, shown, claims, levels, { last });
  const recorded = new Set(journal.entries.map(({ target }) => target));
  return { ...judged, unheard: unheardNames(heldClaims(judged.claims), recorded) };
}

/** Judges claims on a ledger file with the record in memory. */
function judgeWhole(
  path: string,
  shown: string,
  claims: ClaimsText,
  levels: RuleLevels,
  allowsCut: boolean,
): JudgedFile {
  const { journal, truncated } = readLedgerFile(path);
  return { ...judgeRecord(journal, shown, claims, levels, truncated && !allowsCut), truncated };
}
