import {
  type Altering,
  alterationsOf,
  independentSwaps,
  type RecordAlteration,
} from '../alter/alterations.ts';
import { type Change, noChange } from '../alter/change.ts';
import { Track } from '../alter/track.ts';
import { Tracks } from '../alter/tracks.ts';
import { type HeldClaim, partsOf } from '../claim/kinds.ts';
import type { Evidence } from '../claim/parts.ts';
import type { Judged } from '../judge/follower.ts';
import type { HeldEntry } from '../record/journal.ts';
import { intrinsics } from '../value/intrinsics.ts';
import { type Proposal, proposalsFor } from './propose.ts';

/** An alteration that no claim notices, with a claim that would. */
export interface FoundUnnoticed {
  readonly altered: RecordAlteration;
  /** How many other alterations that nobody notices are of the same question and noticed by the same claim. */
  readonly alike: number;
  readonly proposal: Proposal | undefined;
}

/** A claim that fails if only the order of two independent calls changes. */
export interface FoundTight {
  readonly claim: HeldClaim;
  readonly one: HeldEntry;
  readonly other: HeldEntry;
}

/** How much of a record its claims would notice. */
export interface FoundWeight {
  /** Questions: a member, a kind of alteration, a path in the arguments. */
  readonly questions: number;
  readonly noticed: number;
  readonly unnoticed: readonly FoundUnnoticed[];
  readonly tooTight: readonly FoundTight[];
}

/** How many swaps of independent calls a proposed claim is held against. */
const swapsTried = 400;

/** How many alterations of one question get a proposal of their own. */
const proposalsForEach = 12;

/**
 * Alters a record one way at a time and judges claims that hold on it again: which alterations would nobody notice,
 * and which claims would.
 *
 * @param claims that hold on the record
 */
export function weighRecord(
  claims: readonly HeldClaim[],
  evidence: Evidence,
  altering: Altering,
): FoundWeight {
  const { journal } = evidence;
  const tracks = new Tracks(claims, evidence);
  const questions = new Map<string, RecordAlteration[]>();
  for (const altered of alterationsOf(journal, tracks.record.events(), altering)) {
    const judged = judgedTogether(tracks, altered.change);
    if (judged === 'undecided') continue;
    const question = questionOf(altered);
    const unnoticed = questions.get(question) ?? [];
    questions.set(question, unnoticed);
    if (judged === 'holds') unnoticed.push(altered);
  }
  const open = [...questions.values()].filter((unnoticed) => unnoticed.length > 0);
  const swaps = [...independentSwaps(journal, tracks.record.events())];
  return {
    questions: questions.size,
    noticed: questions.size - open.length,
    unnoticed: proposed(open, tracks, evidence, swaps.slice(0, swapsTried)),
    tooTight: tightIn(tracks, swaps),
  };
}

/** What alterations have in common that ask the same: the member, their kind, and the path in the arguments. */
function questionOf({ entry, alteration, path }: RecordAlteration): string {
  return intrinsics.stringify([entry.target.number, entry.kind, alteration, path.map(String)]);
}

/** How the claims stand after a change: noticed if one fails, whatever else is undecided. */
function judgedTogether(tracks: Tracks, change: Change): Judged {
  let together: Judged = 'holds';
  for (const claim of tracks.claims) {
    const judged = tracks.judgedAfter(claim, change);
    if (judged === 'fails') return 'fails';
    if (judged === 'undecided') together = 'undecided';
  }
  return together;
}

interface Asked {
  readonly altered: RecordAlteration;
  readonly proposal: Proposal | undefined;
  readonly alike: number;
}

/** Each alteration that nobody notices with a claim that would, those first whose claim would notice most. */
function proposed(
  open: readonly (readonly RecordAlteration[])[],
  tracks: Tracks,
  evidence: Evidence,
  swaps: readonly { readonly change: Change }[],
): readonly FoundUnnoticed[] {
  const known = new Map<string, Track | undefined>();
  const trackFor = ({ text, claim }: Proposal): Track | undefined => {
    if (!known.has(text)) known.set(text, usableTrack(claim, tracks, evidence, swaps));
    return known.get(text);
  };
  const asked: Asked[] = [];
  for (const unnoticed of open) {
    const ofQuestion: Asked[] = [];
    for (const altered of unnoticed.slice(0, proposalsForEach)) {
      const proposal = proposalsFor(evidence.journal, altered).find(
        (each) => trackFor(each)?.judgedAfter(altered.change) === 'fails',
      );
      const at = ofQuestion.findIndex((each) => each.proposal?.text === proposal?.text);
      const same = ofQuestion[at];
      if (same === undefined) ofQuestion.push({ altered, proposal, alike: 0 });
      else ofQuestion[at] = { ...same, alike: same.alike + 1 };
    }
    const rest = unnoticed.length - Math.min(unnoticed.length, proposalsForEach);
    const last = ofQuestion.at(-1);
    if (last !== undefined && rest > 0)
      ofQuestion[ofQuestion.length - 1] = { ...last, alike: last.alike + rest };
    asked.push(...ofQuestion);
  }
  const reach = new Map<string, number>();
  for (const { proposal } of asked) {
    if (proposal === undefined || reach.has(proposal.text)) continue;
    const track = trackFor(proposal);
    const noticed = asked.filter(({ altered }) => track?.judgedAfter(altered.change) === 'fails');
    reach.set(proposal.text, noticed.length);
  }
  const reachOf = ({ proposal }: Asked) =>
    proposal === undefined ? 0 : (reach.get(proposal.text) ?? 0);
  return asked.sort(
    (one, other) =>
      reachOf(other) - reachOf(one) ||
      (one.proposal?.text ?? '').localeCompare(other.proposal?.text ?? '') ||
      one.altered.entry.id - other.altered.entry.id,
  );
}

/** A claim to propose has to hold on the record, for a reason, and not to fail if only independent calls change places. */
function usableTrack(
  claim: HeldClaim,
  tracks: Tracks,
  evidence: Evidence,
  swaps: readonly { readonly change: Change }[],
): Track | undefined {
  const parts = partsOf(claim);
  if (parts.isAlwaysTrue(claim)) return undefined;
  const record = { evidence, events: () => tracks.record.events(), taken: 0 };
  const track = new Track(claim, record);
  for (const { entry, end, tick } of record.events()) track.hear(entry, end, tick);
  if (track.judged !== 'holds') return undefined;
  const isTight = swaps.some(({ change }) => track.judgedAfter(change) !== 'holds');
  return isTight ? undefined : track;
}

/** Claims that fail if two independent calls change places, each with the first such two. */
function tightIn(
  tracks: Tracks,
  swaps: readonly { readonly one: HeldEntry; readonly other: HeldEntry; readonly change: Change }[],
): readonly FoundTight[] {
  return tracks.claims.flatMap((claim) => {
    if (tracks.judgedAfter(claim, noChange) !== 'holds') return [];
    const found = swaps.find(({ change }) => tracks.judgedAfter(claim, change) === 'fails');
    return found === undefined ? [] : [{ claim, one: found.one, other: found.other }];
  });
}

/** The claims that hold on a record as it is: nothing can be weighed by others. */
export function holdingOn(claims: readonly HeldClaim[], evidence: Evidence): readonly HeldClaim[] {
  const tracks = new Tracks(claims, evidence);
  return claims.filter((claim) => tracks.judgedAfter(claim, noChange) === 'holds');
}
