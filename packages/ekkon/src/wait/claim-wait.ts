import { isUnfinished } from '../claim/count.ts';
import { countedBy, type HeldClaim, innermost, partsOf } from '../claim/kinds.ts';
import type { Diagnosis, Verdict, Waited } from '../explain/finding.ts';
import { lastEvent } from '../explain/last-event.ts';
import { pendingCalls } from '../explain/pending-calls.ts';
import type { UnawaitedDiagnosis } from '../explain/rule-finding.ts';
import { type CapturedSite, captureSite, readSite, type Site } from '../record/call-site.ts';
import type { Journal } from '../record/journal.ts';
import { errorAt } from '../report/claim-error.ts';
import { makeVerdict } from '../report/verdict.ts';
import { evidenceOn, judgeAndNote, noteHolding, vacuous } from '../rule/at-check.ts';
import { noteFailed, noteJudged } from '../rule/judgements.ts';
import { noteCheckOver } from '../rule/last-pass-on.ts';
import type { Below } from '../value/below.ts';
import { inQuotes } from '../value/escape.ts';
import { printsAs } from '../value/prints-as.ts';
import { type Attention, attend } from './attend.ts';
import { makeWaitPromise, type WaitPromise } from './wait-promise.ts';

/** A wait for a claim, from the moment it is asked for until the ledger is closed. */
export interface ClaimWait {
  readonly claim: HeldClaim;
  readonly promise: WaitPromise;
  /** Where it was asked for. */
  readonly site: Site | undefined;
  /** Ends it with the ledger. */
  close(): void;
  /** Whether a claim was reached and no longer holds; to be asked when it is closed. */
  readonly isBroken: boolean;
  /** Whether somebody still waits for a claim to be reached; to be asked when it is closed. */
  readonly isOpen: boolean;
  /** That nobody awaited it; to be asked when it is closed. */
  readonly unawaited: UnawaitedDiagnosis | undefined;
}

/**
 * Waits for a claim: `reach` until it holds, `stays` as long as it does. Each relevant event re-checks the claim; the
 * timer serves only as the time-out.
 *
 * @param time `ms`: milliseconds until the time is over. `work`: the work that should make the claim hold
 */
export function waitForClaim(
  word: 'reach' | 'stays',
  claim: HeldClaim,
  journal: Journal,
  time: { readonly ms: number; readonly work?: PromiseLike<unknown> | undefined },
  below: Below,
): ClaimWait {
  const wait = new Waiting(word, claim, journal, captureSite(below));
  wait.begin(time.ms);
  if (time.work !== undefined) wait.follow(time.work);
  return wait;
}

/** One wait for a claim: its listeners, its state, and its result. */
class Waiting implements ClaimWait {
  readonly claim: HeldClaim;
  readonly promise: WaitPromise;
  private readonly word: 'reach' | 'stays';
  private readonly journal: Journal;
  private readonly captured: CapturedSite;
  private readonly started: number;
  private readonly attention: Attention;
  private readonly settle: Pick<ReturnType<typeof makeWaitPromise>, 'fulfil' | 'reject'>;
  /** Whether a claim that was reached is still listened for, since it may break. */
  private readonly goesOn: boolean;
  private state: UnawaitedDiagnosis['state'] = 'open';
  private cancel = nothing;
  private forget = nothing;

  constructor(word: 'reach' | 'stays', claim: HeldClaim, journal: Journal, captured: CapturedSite) {
    const { promise, fulfil, reject } = makeWaitPromise();
    this.word = word;
    this.claim = claim;
    this.journal = journal;
    this.captured = captured;
    this.started = journal.clock.now();
    this.promise = promise;
    this.settle = { fulfil, reject };
    this.attention = attend(claim, journal, evidenceOn(journal));
    this.goesOn = word === 'reach' && partsOf(claim).canBreak(claim) && !speaksOfUnfinished(claim);
  }

  begin(ms: number): void {
    this.look();
    if (this.state === 'open')
      this.cancel = canceller(this.journal.clock.after(ms, () => this.end('time')));
    if (this.state === 'open' || (this.state === 'held' && this.goesOn)) {
      this.forget = this.attention.listen(() => {
        this.look();
        if (this.state === 'held' && !this.goesOn) this.forget();
      });
    } else this.attention.leave();
  }

  /** Ends with the work that should make the claim hold; its error is the wait's, or nobody's if nothing waits any more. */
  follow(work: PromiseLike<unknown>): void {
    work.then(
      () => {
        this.look();
        if (this.state === 'open') this.end('finished');
      },
      (reason) => {
        if (this.state !== 'open') throw reason;
        this.state = 'failed';
        this.stop();
        this.settle.reject(reason);
      },
    );
  }

  get site(): Site | undefined {
    return readSite(this.captured);
  }

  close(): void {
    if (this.state === 'open') this.cutOff();
    else this.forget();
  }

  get isBroken(): boolean {
    const { attention, goesOn, state } = this;
    return goesOn && state === 'held' && attention.standing !== 'holds';
  }

  get isOpen(): boolean {
    return this.word === 'reach' && this.state === 'open' && this.promise.awaited;
  }

  get unawaited(): UnawaitedDiagnosis | undefined {
    const { claim, word, state } = this;
    if (this.promise.awaited) return undefined;
    return {
      code: 'unawaitedWait',
      claim: 'rule unawaitedWait',
      of: claim,
      culprits: [],
      at: this.site,
      waited: claim[printsAs],
      word,
      state,
    };
  }

  private look(): void {
    if (this.state !== 'open') return;
    const { attention, claim } = this;
    const { standing } = attention;
    if (this.word === 'stays') {
      if (standing !== 'holds') this.end('broken');
    } else if (standing === 'lost' || (standing === 'open' && !attention.isHopeful())) {
      this.end('lost');
    } else if (standing === 'holds') {
      if (attention.absent() === undefined) {
        noteJudged(claim, true, Number.POSITIVE_INFINITY);
        this.succeed();
      } else if (!attention.isHopeful()) this.end('lost');
    }
  }

  /** Judges it on the whole record: that is where the words come from. */
  private end(ended: Waited['ended']): void {
    const { word, claim, journal, attention } = this;
    const found = judgeAndNote([claim], journal);
    const told = found.length > 0 ? found : withoutReason(word, claim, attention, ended);
    if (told.length === 0) this.succeed();
    else {
      const waited = {
        ended,
        after: this.passed(),
        pending: pendingCalls(journal),
        last: lastEvent(journal),
      };
      this.fail({ ...makeVerdict(journal, told, { claims: 1, closing: false }), waited });
    }
  }

  private succeed(): void {
    this.state = 'held';
    this.cancel();
    noteHolding([this.claim], this.journal, this.captured);
    noteCheckOver(this.journal);
    this.settle.fulfil();
  }

  private fail(verdict: Verdict): void {
    this.state = 'failed';
    this.stop();
    noteCheckOver(this.journal);
    this.settle.reject(errorAt(this.captured, verdict));
    this.promise.onceAwaited(() => noteFailed(this.journal, { verdict, claims: [this.claim] }));
  }

  /** A closed ledger records nothing more: a wait that is awaited rejects, any other is a finding. */
  private cutOff(): void {
    this.stop();
    const error = new TypeError(
      `${this.word}(): ledger ${inQuotes(this.journal.name)} was closed while ${this.claim[printsAs]} was waited for, after ${Math.round(this.passed())} ms`,
    );
    this.promise.onceAwaited(() => this.settle.reject(error));
  }

  private stop(): void {
    this.cancel();
    this.forget();
  }

  private passed(): number {
    return this.journal.clock.now() - this.started;
  }
}

function nothing(): void {}

/** The finding for a wait whose claim holds at its end: it holds for no reason, or Ekkon is wrong. */
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

/** Whether a claim is about unfinished calls: these were expected to pass. */
function speaksOfUnfinished(claim: HeldClaim): boolean {
  const counted = countedBy(innermost(claim));
  return counted !== undefined && isUnfinished(counted.held);
}

/** The function that cancels a timer; a foreign clock may return none. */
function canceller(given: unknown): () => void {
  return typeof given === 'function' ? () => void given() : nothing;
}
