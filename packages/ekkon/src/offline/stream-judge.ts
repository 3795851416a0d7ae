import { countEntry } from '../claim/explain-count.ts';
import { type HeldClaim, partsOf } from '../claim/kinds.ts';
import type { Evidence } from '../claim/parts.ts';
import { makeEvidence } from '../judge/evidence.ts';
import type { Judgement } from '../judge/judge.ts';
import type { EntryKind } from '../record/entry.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import type { Target } from '../record/target.ts';
import type { Excerpts } from './excerpts.ts';
import { inOrder } from './in-order.ts';
import { StreamAccounts } from './stream-accounts.ts';

/** How many failures of streams are remembered. */
const failuresKept = 100;

/**
 * Judges claims on events as they are read, and keeps none of them but a few that rules ask about: the first entry
 * of each target, failures, calls that are still under way, and the last entry.
 */
export class StreamJudge {
  /** How many entries each target has, by their kind. */
  readonly counts = new Map<Target, Map<EntryKind, number>>();
  readonly accounts: StreamAccounts;
  private readonly claims: readonly HeldClaim[];
  private readonly excerpts: Excerpts;
  private readonly firsts = new Map<Target, HeldEntry>();
  private readonly failures: HeldEntry[] = [];
  private readonly open = new Set<HeldEntry>();
  private last: HeldEntry | undefined;

  /**
   * @param claims on one ledger
   * @param asksAll whether a rule needs all entries that nothing covers
   * @param excerpts those of the claims, which follow them
   */
  constructor(claims: readonly HeldClaim[], asksAll: boolean, excerpts: Excerpts) {
    this.claims = claims;
    this.excerpts = excerpts;
    this.accounts = new StreamAccounts(claims, asksAll);
  }

  /** Takes the next event of the record. */
  tell(entry: HeldEntry, end: boolean, tick: number): void {
    if (!end) this.begin(entry);
    this.excerpts.tell(entry, end, tick);
    this.accounts.tell(entry, end, tick);
    if (end) this.open.delete(entry);
  }

  private begin(entry: HeldEntry): void {
    if (!this.firsts.has(entry.target)) this.firsts.set(entry.target, entry);
    if (entry.kind === 'failure' && this.failures.length < failuresKept) this.failures.push(entry);
    countEntry(this.counts, entry);
    this.open.add(entry);
    this.last = entry;
  }

  /** How many entries were told. */
  get entries(): number {
    return this.last?.id ?? 0;
  }

  /** The few entries that were kept, in order. */
  sample(): readonly HeldEntry[] {
    const last = this.last === undefined ? [] : [this.last];
    const { firsts, failures, open, accounts } = this;
    const kept = [...firsts.values(), ...failures, ...open, ...accounts.unclaimed(), ...last];
    return inOrder(kept);
  }

  /** Whether a positive claim heard anything. */
  get hasUsed(): boolean {
    return this.excerpts.all.some(
      ({ follower, claim }) => follower.hasHeard && partsOf(claim).uses(claim).length > 0,
    );
  }

  /** The claims that do not hold and have no reason yet: not those on the whole record. Call it after the last event. */
  unexplained(journal: Journal): readonly HeldClaim[] {
    const evidence = noEvidence(journal);
    return this.excerpts.all
      .filter(({ follower }) => follower.judged(evidence) !== 'holds')
      .map(({ claim }) => claim);
  }

  /**
   * The judgment of each claim on the record so far, in the given order. The reason why one does not hold is left
   * out, except for claims on the whole record. Call it after the last event.
   */
  judgements(journal: Journal): readonly Judgement[] {
    if (!this.accounts.isDeferred) for (const entry of this.open) this.accounts.decide(entry);
    const evidence = noEvidence(journal);
    const byClaim = new Map(this.excerpts.all.map((excerpt) => [excerpt.claim, excerpt]));
    return this.claims.map((claim) => {
      const follower = byClaim.get(claim)?.follower;
      if (follower === undefined) return this.accounts.judgementOn(claim);
      const judged = follower.judged(evidence);
      const absent = judged === 'holds' ? follower.absent() : undefined;
      return { claim, judged, absent, diagnosis: undefined };
    });
  }
}

/** The evidence of claims that need nothing but events. */
function noEvidence(journal: Journal): Evidence {
  return makeEvidence(
    journal,
    () => new Set(),
    () => [],
  );
}
