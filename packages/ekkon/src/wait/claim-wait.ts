import type { HeldClaim } from '../claim/claim.ts';
import { isBounded } from '../claim/standing/follow-claim.ts';
import { everything } from '../claim/window.ts';
import type { Verdict, Waited } from '../explain/finding.ts';
import { judge, vacuity } from '../explain/judge.ts';
import { pendingCalls } from '../explain/pending-calls.ts';
import type { UnawaitedDiagnosis } from '../explain/rule-finding.ts';
import { levelFor } from '../explain/rule-level.ts';
import { captureSite, readSite, type Site } from '../record/call-site.ts';
import type { LedgerRecord } from '../record/ledger-record.ts';
import { verdictOn } from '../report/verdict.ts';
import { attend } from './attend.ts';
import { errorAt } from './error-at.ts';
import { makeWaitPromise, type WaitPromise } from './wait-promise.ts';

type Below = (...args: never[]) => unknown;

/** A wait for a claim, from the moment it is asked for until the ledger is closed. */
export interface ClaimWait {
  readonly claim: HeldClaim;
  readonly promise: WaitPromise;
  /** Ends it with the ledger. */
  close(): void;
  /** The claim and its place, where it was reached and does not hold any more. */
  readonly broken: { readonly claim: HeldClaim; readonly reachedAt: Site | undefined } | undefined;
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
  record: LedgerRecord,
  ms: number,
  below: Below,
): ClaimWait {
  const { clock } = record;
  const view = { record, window: everything, claims: [claim] };
  const captured = captureSite(below);
  const started = clock.now();
  const { promise, fulfil, reject } = makeWaitPromise();
  const attention = attend(claim, record, () => judge(claim, view) === undefined);
  const goesOn = word === 'reach' && isBounded(claim);
  let state: UnawaitedDiagnosis['state'] = 'open';
  let cancel = () => {};
  let forget = () => {};

  const isVacuous = () =>
    (claim.claim === 'leadsTo' || claim.claim === 'during') &&
    levelFor('vacuousClaim', claim) !== 'allow' &&
    vacuity(claim, view) !== undefined;

  /** Judges it on the whole record, where it does not seem to hold: that is where the words come from. */
  function end(ended: Waited['ended']): void {
    const verdict = verdictOn([claim], record);
    if (verdict.holds) succeed();
    else fail({ ...verdict, waited: { ended, after: passed(), pending: pendingCalls(record) } });
  }

  const passed = () => clock.now() - started;

  function stop(): void {
    cancel();
    forget();
  }

  function succeed(): void {
    state = 'held';
    cancel();
    fulfil();
  }

  function fail(verdict: Verdict): void {
    state = 'failed';
    stop();
    reject(errorAt(captured, verdict));
    promise.onceAwaited(() => {
      record.failed = true;
    });
  }

  /** Nothing more comes of a closed ledger: who awaits it is told, and where nobody does, that is a finding. */
  function cutOff(): void {
    stop();
    const error = new TypeError(
      `${word}(${claim.notation}): ledger "${record.name}" was closed while this was waited for, after ${Math.round(passed())} ms`,
    );
    promise.onceAwaited(() => reject(error));
  }

  function look(): void {
    if (state !== 'open') return;
    const { standing } = attention;
    if (word === 'stays') {
      if (standing !== 'holds') end('broken');
      return;
    }
    if (standing === 'lost') {
      end('lost');
    } else if (standing === 'holds' && !isVacuous()) {
      record.judged.push({ claim, holds: true, upTo: record.tick });
      succeed();
    }
  }

  look();
  if (state === 'open') cancel = canceller(clock.after(ms, () => end('time')));
  if (state === 'open' || (state === 'held' && goesOn)) {
    forget = attention.listen(() => {
      look();
      if (state === 'held' && !(goesOn && attention.needsEvents)) forget();
    });
  }

  return {
    claim,
    promise,
    close() {
      if (state === 'open') cutOff();
      else forget();
    },
    get broken() {
      const isBroken = state === 'held' && goesOn && attention.standing !== 'holds';
      return isBroken ? { claim, reachedAt: readSite(captured) } : undefined;
    },
    get unawaited(): UnawaitedDiagnosis | undefined {
      if (promise.awaited) return undefined;
      return {
        code: 'unawaitedReach',
        claim: 'rule unawaitedReach',
        culprits: [],
        at: readSite(captured),
        waited: claim.notation,
        word,
        state,
      };
    },
  };
}

/** What cancels a timer; a clock of somebody else's may give nothing. */
function canceller(given: unknown): () => void {
  return typeof given === 'function' ? () => void given() : () => {};
}
