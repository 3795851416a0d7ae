import {
  type Altering,
  alterationsOf,
  independentSwaps,
  neighbourSwaps,
  type RecordAlteration,
  type Swap,
} from '../alter/alterations.ts';
import { type Change, noChange } from '../alter/change.ts';
import { Track } from '../alter/track.ts';
import { Tracks } from '../alter/tracks.ts';
import { type HeldClaim, partsOf } from '../claim/kinds.ts';
import type { Evidence } from '../claim/parts.ts';
import type { Judged } from '../judge/follower.ts';
import type { HeldEntry } from '../record/journal.ts';
import { grouped } from '../value/grouped.ts';
import { intrinsics } from '../value/intrinsics.ts';
import { type Candidate, chooseInOrder, saidBy } from './choose.ts';
import { lanesIn } from './lanes.ts';
import { makeProposer, type Proposal } from './propose.ts';
import { mayFlow, repliesOn } from './replies.ts';

/** An alteration that no claim notices, with a claim that would. */
export interface FoundUnnoticed {
  readonly altered: RecordAlteration;
  /** How many other alterations that nobody notices are of the same question and noticed by the same claim. */
  readonly alike: number;
  readonly proposal: Proposal | undefined;
}

/** A claim that fails if only the order of two calls changes that nothing in the record asks for. */
export interface FoundTight {
  readonly claim: HeldClaim;
  readonly one: HeldEntry;
  readonly other: HeldEntry;
  /** They overlap; or nothing that the first gave was given to the second. */
  readonly why: 'overlap' | 'nothing flows';
}

/** How much of a record its claims would notice. */
export interface FoundWeight {
  /** Questions: a member, a kind of alteration, a path in the arguments. */
  readonly questions: number;
  readonly noticed: number;
  readonly unnoticed: readonly FoundUnnoticed[];
  readonly tooTight: readonly FoundTight[];
}

/** How many swaps of independent calls a proposed claim must survive. */
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
    unnoticed: proposed(open, tracks, evidence, swaps.slice(0, swapsTried), altering),
    tooTight: tightIn(tracks, swaps, altering),
  };
}

/** Common to changes that ask the same question: the member, their kind, and the path in the arguments. */
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

/** Each alteration that nobody notices with a claim that would, the claims to add first before the others. */
function proposed(
  open: readonly (readonly RecordAlteration[])[],
  tracks: Tracks,
  evidence: Evidence,
  swaps: readonly Swap[],
  altering: Altering,
): readonly FoundUnnoticed[] {
  const asked = open.flatMap((unnoticed) => unnoticed.slice(0, proposalsForEach));
  const { candidates, open: toNotice } = candidatesFor(asked, tracks, evidence, swaps, altering);
  const chosen = chooseInOrder(candidates, toNotice, tracks.claims.flatMap(saidBy));
  const left = new Set(asked);
  const found: FoundUnnoticed[] = [];
  const add = (altered: readonly RecordAlteration[], proposal: Proposal | undefined) => {
    for (const [first, ...alike] of grouped(altered, questionOf).values()) {
      if (first !== undefined) found.push({ altered: first, alike: alike.length, proposal });
    }
  };
  for (const { proposal, notices } of chosen) {
    const its = asked.filter((altered) => left.has(altered) && notices.has(altered));
    for (const altered of its) left.delete(altered);
    add(its, proposal);
  }
  add([...left], undefined);
  return found.map((each) => withRest(each, found, open));
}

/** The claims that would notice some alterations and could be added, and the alterations for which there may be one. */
function candidatesFor(
  asked: readonly RecordAlteration[],
  tracks: Tracks,
  evidence: Evidence,
  swaps: readonly Swap[],
  altering: Altering,
): { readonly candidates: readonly Candidate[]; readonly open: readonly RecordAlteration[] } {
  const { journal } = evidence;
  const events = tracks.record.events();
  const propose = makeProposer({
    journal,
    replies: repliesOn(journal, altering),
    lanes: lanesIn(events),
  });
  const open = asked.filter((altered) => propose(altered).length > 0);
  const moves = asked.filter(({ alteration }) => alteration === 'move');
  const found = new Map<string, Candidate>();
  const tried = new Set<string>();
  for (const altered of open) {
    for (const proposal of propose(altered)) {
      if (tried.has(proposal.text)) continue;
      tried.add(proposal.text);
      const track = usableTrack(proposal.claim, tracks, evidence, swaps);
      // An order notices a call that is gone too, but is none to claim that by.
      const heldAgainst = altered.alteration === 'move' ? moves : asked;
      const notices = heldAgainst.filter(({ change }) => track?.judgedAfter(change) === 'fails');
      if (notices.length === 0) continue;
      const says = saidBy(proposal.claim);
      found.set(proposal.text, { proposal, notices: new Set(notices), says });
    }
  }
  return { candidates: [...found.values()], open };
}

/** With those of its question that got no proposal of their own, if it is the last one of it. */
function withRest(
  each: FoundUnnoticed,
  found: readonly FoundUnnoticed[],
  open: readonly (readonly RecordAlteration[])[],
): FoundUnnoticed {
  const isOfQuestion = ({ altered }: FoundUnnoticed) =>
    questionOf(altered) === questionOf(each.altered);
  if (found.findLast(isOfQuestion) !== each) return each;
  const all = open.find(
    ([first]) => first !== undefined && questionOf(first) === questionOf(each.altered),
  );
  const rest = Math.max(0, (all?.length ?? 0) - proposalsForEach);
  return { ...each, alike: each.alike + rest };
}

/** A claim to propose has to hold on the record, for a reason, and not to fail if only independent calls change places. */
function usableTrack(
  claim: HeldClaim,
  tracks: Tracks,
  evidence: Evidence,
  swaps: readonly Swap[],
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

/** Claims that fail if two calls change places of which nothing in the record says that one comes first, each with the first such two. */
function tightIn(
  tracks: Tracks,
  swaps: readonly Swap[],
  altering: Altering,
): readonly FoundTight[] {
  const neighbours = [...neighbourSwaps(tracks.record.events(), altering)].filter(
    ({ one, other }) => !mayFlow(one, other),
  );
  return tracks.claims.flatMap((claim): FoundTight[] => {
    if (tracks.judgedAfter(claim, noChange) !== 'holds') return [];
    const isTight = ({ change }: Swap) => tracks.judgedAfter(claim, change) === 'fails';
    const overlapping = swaps.find(isTight);
    const found = overlapping ?? neighbours.find(isTight);
    if (found === undefined) return [];
    const why = overlapping === undefined ? 'nothing flows' : 'overlap';
    return [{ claim, one: found.one, other: found.other, why }];
  });
}

/** The claims that hold on a record as it is: nothing can be weighed by others. */
export function holdingOn(claims: readonly HeldClaim[], evidence: Evidence): readonly HeldClaim[] {
  const tracks = new Tracks(claims, evidence);
  return claims.filter((claim) => tracks.judgedAfter(claim, noChange) === 'holds');
}
