import { isUnfinished } from '../claim/count.ts';
import { countedBy, type HeldClaim, innermost, partsOf } from '../claim/kinds.ts';
import type { Diagnosis, Verdict, Waited } from '../explain/finding.ts';
import { pendingCalls } from '../explain/pending-calls.ts';
import type { UnawaitedDiagnosis } from '../explain/rule-finding.ts';
import { captureSite, readSite, type Site } from '../record/call-site.ts';
import type { Journal } from '../record/journal.ts';
import { errorAt } from '../report/claim-error.ts';
import { makeVerdict } from '../report/verdict.ts';
import { evidenceOn, judgeAndNote, noteHolding, vacuous } from '../rule/at-check.ts';
import { noteFailed, noteJudged } from '../rule/judgements.ts';
import { inQuotes } from '../value/escape.ts';
import { printsAs } from '../value/prints-as.ts';
import { type Attention, attend } from './attend.ts';
import { makeWaitPromise, type WaitPromise } from './wait-promise.ts';

type Below = (...args: never[]) => unknown;

/** A wait for a claim, from the moment it is asked for until the ledger is closed. */
export interface ClaimWait {
  readonly claim: HeldClaim;
  readonly promise: WaitPromise;
  /** Where it was asked for. */
  readonly site: Site | undefined;
  /** Ends it with the ledger. */
  close(): void;
  /** What has become of a claim that was to be reached; to be asked when it is closed. */
  readonly outcome: 'reached' | 'broken' | undefined;
  /** Whether somebody still waits for a claim to be reached; to be asked when it is closed. */
  readonly isOpen: boolean;
  /** That nobody awaited it; to be asked when it is closed. */
  readonly unawaited: UnawaitedDiagnosis | undefined;
}

/**
 * Waits for a claim: `reach` until it holds, `stays` as long as it does. It is told of the events that
 * the claim has to do with, and asks nothing of a timer but when the time is over.
 *
 * @param ms milliseconds until the time is over
 */
export function waitForClaim(
  word: 'reach' | 'stays',
  claim: HeldClaim,
  journal: Journal,
  ms: number,
  below: Below,
): ClaimWait {
  const { clock } = journal;
  const captured = captureSite(below);
  const started = clock.now();
  const { promise, fulfil, reject } = makeWaitPromise();
  const attention = attend(claim, journal, evidenceOn(journal));
  let state: UnawaitedDiagnosis['state'] = 'open';
  let cancel = nothing;
  let forget = nothing;

  const passed = () => clock.now() - started;

  function stop(): void {
    cancel();
    forget();
  }

  /** Judges it on the whole record: that is where the words come from. */
  function end(ended: Waited['ended']): void {
    const found = judgeAndNote([claim], journal);
    const told = found.length > 0 ? found : withoutReason(word, claim, attention, ended);
    if (told.length === 0) succeed();
    else {
      const waited = { ended, after: passed(), pending: pendingCalls(journal) };
      fail({ ...makeVerdict(journal, told, { claims: 1, closing: false }), waited });
    }
  }

  function succeed(): void {
    state = 'held';
    cancel();
    noteHolding([claim], journal, captured);
    fulfil();
  }

  function fail(verdict: Verdict): void {
    state = 'failed';
    stop();
    reject(errorAt(captured, verdict));
    promise.onceAwaited(() => noteFailed(journal, { verdict, claims: [claim] }));
  }

  /** Nothing more comes of a closed ledger: who awaits it is told, and if nobody does, that is a finding. */
  function cutOff(): void {
    stop();
    const error = new TypeError(
      `${word}(): ledger ${inQuotes(journal.name)} was closed while ${claim[printsAs]} was waited for, after ${Math.round(passed())} ms`,
    );
    promise.onceAwaited(() => reject(error));
  }

  function look(): void {
    if (state !== 'open') return;
    const { standing } = attention;
    if (word === 'stays') {
      if (standing !== 'holds') end('broken');
    } else if (standing === 'lost' || (standing === 'open' && !attention.isHopeful())) {
      end('lost');
    } else if (standing === 'holds') {
      if (attention.absent() === undefined) {
        noteJudged(claim, true, journal.tick);
        succeed();
      } else if (!attention.isHopeful()) end('lost');
    }
  }

  const goesOn = word === 'reach' && partsOf(claim).canBreak(claim) && !speaksOfUnfinished(claim);
  look();
  if (state === 'open') cancel = canceller(clock.after(ms, () => end('time')));
  if (state === 'open' || (state === 'held' && goesOn)) {
    forget = attention.listen(() => {
      look();
      if (state === 'held' && !goesOn) forget();
    });
  } else attention.leave();

  return {
    claim,
    promise,
    get site() {
      return readSite(captured);
    },
    close() {
      if (state === 'open') cutOff();
      else forget();
    },
    get outcome() {
      if (word !== 'reach' || state !== 'held') return undefined;
      return goesOn && attention.standing !== 'holds' ? 'broken' : 'reached';
    },
    get isOpen() {
      return word === 'reach' && state === 'open' && promise.awaited;
    },
    get unawaited(): UnawaitedDiagnosis | undefined {
      if (promise.awaited) return undefined;
      return {
        code: 'unawaitedWait',
        claim: 'rule unawaitedWait',
        of: claim,
        culprits: [],
        at: readSite(captured),
        waited: claim[printsAs],
        word,
        state,
      };
    },
  };
}

function nothing(): void {}

/** What is told of a wait whose claim holds at its end: that it does so for no reason, or that we are wrong. */
function withoutReason(
  word: 'reach' | 'stays',
  claim: HeldClaim,
  attention: Attention,
  ended: Waited['ended'],
): readonly Diagnosis[] {
  if (word === 'stays' && ended === 'time') return [];
  const diagnosis = vacuous(claim, attention.absent());
  if (diagnosis !== undefined && ended !== 'broken') return [diagnosis];
  if (ended === 'time' && attention.standing === 'holds') return [];
  throw new Error(
    `Ekkon contradicts itself: \`${claim.notation}\` holds on the whole record, and did not as it grew. Please report this, with the claim and the record.`,
  );
}

/** Whether a claim speaks of what is unfinished: that was to pass. */
function speaksOfUnfinished(claim: HeldClaim): boolean {
  const counted = countedBy(innermost(claim));
  return counted !== undefined && isUnfinished(counted.held);
}

/** What cancels a timer; a clock of somebody else's may give nothing. */
function canceller(given: unknown): () => void {
  return typeof given === 'function' ? () => void given() : nothing;
}
