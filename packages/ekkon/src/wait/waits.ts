import type { HeldClaim } from '../claim/kinds.ts';
import type { UnawaitedDiagnosis } from '../explain/rule-finding.ts';
import type { Site } from '../record/call-site.ts';
import { forEachJournal } from '../record/each-journal.ts';
import type { Journal } from '../record/journal.ts';
import type { ClaimWait } from './claim-wait.ts';

/** The current and past waits of a ledger, and the claims to judge when it is closed. */
interface Waits {
  readonly waits: ClaimWait[];
  readonly standing: HeldClaim[];
  readonly whenClosed: Set<() => void>;
}

const waitsOn = forEachJournal<Waits>(() => ({ waits: [], standing: [], whenClosed: new Set() }));

/** Notes a wait. */
export function noteWait(journal: Journal, wait: ClaimWait): void {
  waitsOn(journal).waits.push(wait);
}

/** Notes claims to be judged when the ledger is closed. */
export function noteStanding(journal: Journal, claims: readonly HeldClaim[]): void {
  waitsOn(journal).standing.push(...claims);
}

/** Calls back when the ledger is closed; the returned function ends that. */
export function onClose(journal: Journal, run: () => void): () => void {
  const { whenClosed } = waitsOn(journal);
  whenClosed.add(run);
  return () => whenClosed.delete(run);
}

/** The claims that waiting leaves to be judged when a ledger is closed. */
export interface EndedWaits {
  /** Claims at close, and those that were reached and no longer hold. */
  readonly toJudge: readonly HeldClaim[];
  /** Claims that the test still waited for, each with the place. */
  readonly open: ReadonlyMap<HeldClaim, Site | undefined>;
  /** Where a claim was reached that no longer holds. */
  readonly reachedAt: ReadonlyMap<unknown, Site | undefined>;
  readonly unawaited: readonly {
    readonly claim: HeldClaim;
    readonly diagnosis: UnawaitedDiagnosis;
  }[];
}

/** Ends all waits. */
export function endWaits(journal: Journal): EndedWaits {
  const { waits, standing, whenClosed } = waitsOn(journal);
  for (const wait of waits) wait.close();
  for (const run of whenClosed) run();
  journal.hearing = undefined;
  const broken = waits.filter(({ isBroken }) => isBroken);
  return {
    toJudge: [...new Set([...standing, ...broken.map(({ claim }) => claim)])],
    open: new Map(waits.flatMap(({ isOpen, claim, site }) => (isOpen ? [[claim, site]] : []))),
    reachedAt: new Map(broken.map(({ claim, site }) => [claim, site])),
    unawaited: waits.flatMap(({ claim, unawaited }) =>
      unawaited === undefined ? [] : [{ claim, diagnosis: unawaited }],
    ),
  };
}
