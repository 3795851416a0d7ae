import { shortValue } from '../notation/value.ts';
import type { LedgerRecord } from '../record/ledger-record.ts';
import { isOwn, makeOwn, printsAs } from '../record/prints-as.ts';
import { refuse } from '../record/refuse.ts';
import { noteUsed, noteWritten } from '../record/written.ts';
import { claimOf, type HeldClaim, recordOf } from './claim.ts';
import type { Claim } from './count.ts';
import { eventFit, type HeldEvent, isEnd, memberOf, tickOf } from './event.ts';
import type { EventPattern, JudgedEntry } from './pattern.ts';
import { readMoment } from './precedence.ts';
import { type Window, within } from './window.ts';

/** A moment that the test marked. */
export interface Mark {
  readonly tick: number;
}

/** A mark behind its public type. */
export interface HeldMark extends Mark {
  readonly record: LedgerRecord;
  readonly [printsAs]: string;
}

/** A claim on stretches of the record, behind its public type. */
export interface HeldDuring extends Claim {
  readonly claim: 'during';
  readonly record: LedgerRecord;
  readonly from: HeldEvent | HeldMark | undefined;
  readonly until: HeldEvent | HeldMark | undefined;
  /** Whether only stretches that come to their end count. */
  readonly closed: boolean;
  readonly inner: HeldClaim;
  readonly [printsAs]: string;
}

/** One stretch, and the entry that began it. */
export interface Stretch extends Window {
  readonly from: JudgedEntry | undefined;
}

/** Where a stretch begins and ends. */
export interface Extent {
  readonly from?: EventPattern | Mark;
  readonly until?: EventPattern | Mark;
  /** Only stretches that come to their end count. Default: one with no end runs to the end of the record. */
  readonly closed?: boolean;
}

/**
 * Claims that a claim holds in every stretch of the record from one event to the next. Either end may be
 * left out, and a mark serves as an event; a stretch with no end runs to the end of the record. Where
 * `until` is an end of the calls of `from`, there is a stretch for each call, to its own end.
 *
 * @throws TypeError where an end is no pattern with a moment, where there is no claim, or where two
 * ledgers are mixed
 * @example
 * check(during({ from: call(mount.slewTo), until: fulfilled(call(mount.slewTo)) }, never(call(camera.expose))));
 */
export function during(stretch: Extent, claim: Claim): Claim {
  const inner = claimOf(claim);
  if (inner === undefined || inner.claim === 'nothingElse' || inner.claim === 'conforms') {
    refuse(
      `during() takes a claim that can hold in a stretch, and was given ${shortValue(claim)}. Write during({ from, until }, never(call(camera.expose))).`,
      during,
    );
  }
  const [from, until] = [readBound(stretch?.from), readBound(stretch?.until)];
  if (from === undefined && until === undefined) {
    refuse(
      'during() was given neither end of a stretch. Write during({ from: call(mount.slewTo) }, …), or the claim alone.',
      during,
    );
  }
  const record = recordOf(inner);
  for (const bound of [from, until]) {
    if (bound !== undefined && recordOfBound(bound) !== record) {
      refuse(
        `during() was given a claim on ledger "${record.name}" and a stretch on ledger "${recordOfBound(bound).name}". A claim speaks of one ledger.`,
        during,
      );
    }
  }
  const closed = stretch?.closed === true;
  const said =
    `${from === undefined ? '' : from[printsAs]} › ${until === undefined ? '' : until[printsAs]}`.trim();
  const notation = `${inner.notation} during ${closed ? 'closed ' : ''}${said}`;
  noteUsed(record, inner);
  const made = makeOwn<HeldDuring>({
    claim: 'during',
    record,
    from,
    until,
    closed,
    inner,
    notation,
    [printsAs]: notation,
  });
  return noteWritten(record, 'claim', made, during);
}

function readBound(value: unknown): HeldEvent | HeldMark | undefined {
  return value === undefined ? undefined : (markOf(value) ?? readMoment(value, during));
}

/** The mark behind its public type; `undefined` where the value is none. */
function markOf(value: unknown): HeldMark | undefined {
  return isOwn(value) && 'tick' in value ? (value as unknown as HeldMark) : undefined;
}

function recordOfBound(bound: HeldEvent | HeldMark): LedgerRecord {
  return 'tick' in bound ? bound.record : memberOf(bound).record;
}

/** The stretches of a record, within a window of it. */
export function stretchesOf(
  claim: HeldDuring,
  entries: readonly JudgedEntry[],
  window: Window,
): readonly Stretch[] {
  const stretches = allStretches(claim, entries, window);
  return claim.closed ? stretches.filter(({ before }) => before < window.before) : stretches;
}

function allStretches(
  claim: HeldDuring,
  entries: readonly JudgedEntry[],
  window: Window,
): readonly Stretch[] {
  const { from, until } = claim;
  const starts =
    from === undefined
      ? [{ tick: window.after, entry: undefined }]
      : momentsOf(from, entries, window);
  if (isOwnEnd(from, until)) {
    return starts.map(({ tick, entry }) => ({
      after: tick,
      before: endOf(until, entry, window),
      from: entry,
    }));
  }
  const ends = until === undefined ? [] : momentsOf(until, entries, window);
  const stretches: Stretch[] = [];
  let free = Number.NEGATIVE_INFINITY;
  for (const { tick, entry } of starts) {
    // A beginning inside a stretch that is still open begins no other one.
    if (tick < free) continue;
    const before = ends.find((end) => end.tick > tick)?.tick ?? window.before;
    stretches.push({ after: tick, before, from: entry });
    free = before;
  }
  return stretches;
}

/** Whether a stretch ends with the very call that it began with. */
function isOwnEnd(from: HeldDuring['from'], until: HeldDuring['until']): until is HeldEvent {
  if (from === undefined || until === undefined || 'tick' in from || 'tick' in until) return false;
  return !isEnd(from) && isEnd(until) && until.calls[printsAs] === from[printsAs];
}

function endOf(until: HeldEvent, entry: JudgedEntry | undefined, window: Window): number {
  if (entry === undefined || eventFit(until, entry) !== 'fits') return window.before;
  return Math.min(window.before, tickOf(until, entry));
}

function momentsOf(
  bound: HeldEvent | HeldMark,
  entries: readonly JudgedEntry[],
  window: Window,
): readonly { readonly tick: number; readonly entry: JudgedEntry | undefined }[] {
  if ('tick' in bound)
    return within(window, bound.tick) ? [{ tick: bound.tick, entry: undefined }] : [];
  return entries
    .filter((entry) => eventFit(bound, entry) === 'fits')
    .map((entry) => ({ tick: tickOf(bound, entry), entry }))
    .filter(({ tick }) => within(window, tick))
    .sort((one, other) => one.tick - other.tick);
}
