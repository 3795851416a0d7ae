import { asCount } from '../claim/count.ts';
import { type HeldClaim, partsOf } from '../claim/kinds.ts';
import type { Evidence, View, Wanting } from '../claim/parts.ts';
import { aboutClaim, type NearEntry } from '../explain/diagnosis.ts';
import type { Diagnosis, UndecidedDiagnosis } from '../explain/finding.ts';
import { nearEntry } from '../explain/nearest.ts';
import { everything } from '../explain/window.ts';
import { eventFit } from '../pattern/fit.ts';
import { entryData } from '../record/entry-data.ts';
import { eventsOf } from '../record/events.ts';
import { isMark } from '../record/mark.ts';
import { addUsed } from './accounting.ts';
import { type Blame, makeBlame } from './blame.ts';
import { Dispatch } from './dispatch.ts';
import { Follower, type Judged } from './follower.ts';

/** The judgment of one claim. */
export interface Judgement {
  readonly claim: HeldClaim;
  readonly judged: Judged;
  /** Why it does not hold. */
  readonly diagnosis: Diagnosis | undefined;
  /** The event that never occurred, as written, if the claim holds for no other reason. */
  readonly absent: ReturnType<Follower['absent']>;
}

/**
 * Judges claims on evidence, all of them in one pass over the record. It changes nothing: the caller notes the
 * result. `nothingElse` comes last, because covered entries are known only after the other claims are judged.
 */
export function judge(claims: readonly HeldClaim[], evidence: Evidence): readonly Judgement[] {
  const followers = claims.map((claim) => new Follower(claim));
  foldRecord(followers, evidence);
  const wanted = claims.map(wantingOf);
  const all = withUsed(claims, evidence);
  const judged = new Map(followers.map((follower) => [follower.claim, follower.judged(all)]));
  const blame = blameOn(claims, evidence.journal, (claim) => judged.get(claim) === 'fails');
  return followers.map((follower) => judgementOn(follower, all, wanted, blame));
}

/** What decides who is to blame, once the first claim fails. */
function blameOn(...given: Parameters<typeof makeBlame>): () => Blame {
  let made: Blame | undefined;
  return () => {
    made ??= makeBlame(...given);
    return made;
  };
}

/** Tells followers everything that is recorded. */
export function foldRecord(followers: readonly Follower[], { journal }: Evidence): void {
  const dispatch = new Dispatch();
  for (const follower of followers) dispatch.add(follower, follower.hearing);
  if (!dispatch.hearsEnds) {
    for (const entry of journal.entries) dispatch.tell(entry, false, entry.began);
    return;
  }
  eventsOf(journal).forEach((entry, at) => {
    if (entry !== undefined && !isMark(entry)) dispatch.tell(entry, entry.began !== at + 1, at + 1);
  });
}

/** The patterns whose entries a claim covers, as it is written. */
export function wantingOf(claim: HeldClaim): Wanting {
  return {
    get notation() {
      return claim.notation;
    },
    events: partsOf(claim).uses(claim),
  };
}

/** Evidence with the entries that claims of the same check cover; computed on demand. */
function withUsed(claims: readonly HeldClaim[], evidence: Evidence): Evidence {
  let known: Set<number> | undefined;
  const accounted = () => {
    if (known !== undefined) return known;
    const { journal } = evidence;
    const found = new Set(evidence.accounted());
    for (const claim of claims) addUsed(claim, journal, journal.tick, (id) => found.add(id));
    known = found;
    return found;
  };
  return { ...evidence, accounted };
}

/** The judgment of a follower that has heard the whole record. */
export function judgementOn(
  follower: Follower,
  evidence: Evidence,
  wanted: readonly Wanting[],
  blame: () => Blame,
): Judgement {
  const { claim } = follower;
  const judged = follower.judged(evidence);
  const absent = judged === 'holds' ? follower.absent() : undefined;
  return { claim, judged, absent, diagnosis: diagnose(follower, judged, evidence, wanted, blame) };
}

function diagnose(
  follower: Follower,
  judged: Judged,
  evidence: Evidence,
  wanted: readonly Wanting[],
  blame: () => Blame,
): Diagnosis | undefined {
  const { claim, parts, state } = follower;
  switch (judged) {
    case 'holds':
      return undefined;
    case 'undecided':
      return undecidedDiagnosis(follower, evidence);
    case 'fails': {
      const owners = blame();
      const view: View = {
        evidence,
        window: everything,
        wanted,
        toBlame: (entries, event) => owners.left(claim, entries, event),
        isWanted: (entry) => owners.isWanted(entry, claim),
        isMeant: (entry) => owners.isMeant(entry, claim),
      };
      const diagnosis = parts.explain(claim, view, state);
      if (diagnosis !== undefined) return diagnosis;
      throw new Error(
        `Ekkon contradicts itself: \`${claim.notation}\` does not hold, and no reason was found. Please report this, with the claim and the record.`,
      );
    }
  }
}

function undecidedDiagnosis(follower: Follower, { journal }: Evidence): UndecidedDiagnosis {
  const { claim, undecided, undecidedCount, tooMany } = follower;
  const near: readonly NearEntry[] = undecided.map(({ entry, event }) => nearEntry(event, entry));
  const count = asCount(claim);
  const [first] = undecided;
  return {
    code: 'undecidedCall',
    ...aboutClaim(claim),
    culprits: undecided.map(({ entry }) => entry.id),
    at: first === undefined ? undefined : entryData(first.entry).site,
    undecided: near,
    count: undecidedCount,
    certain: count && {
      fitting: journal.entries.filter((entry) => eventFit(count.held, entry) === 'fits').length,
      range: count.range,
    },
    tooMany,
  };
}
