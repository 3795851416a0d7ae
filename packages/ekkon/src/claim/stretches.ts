import type { Window } from '../explain/window.ts';
import { isMark } from '../record/mark.ts';
import type { Target } from '../record/target.ts';
import type { HeldDuring } from './during.ts';
import type { Heard } from './parts.ts';

/** The fold inside each stretch, and its result when the stretch ends. */
export interface InnerFold<S, R> {
  /** @param outside the state of the same fold that has heard everything so far */
  start(since: number, outside: S | undefined): S;
  take(state: S, event: Heard): S;
  same(one: S, other: S): boolean;
  /** The result of the stretches so far, after one more has ended. */
  ended(result: R, state: S, stretch: Window): R;
  /** Whether it matters which calls began before a stretch: then equal states may part later. */
  readonly mindsBeginnings: boolean;
  /** The targets of which it hears every beginning. */
  readonly beginnings: ((target: Target) => boolean) | undefined;
}

/** The stretches of a record at one moment: the open ones, and the result of the others. */
export interface Stretches<S, R> {
  readonly since: number;
  /** The state of the inner fold outside of all stretches: it hears everything. */
  readonly outside: S;
  /** The earliest first. */
  readonly open: readonly OpenStretches<S>[];
  /** Whether a mark that begins or ends a stretch has been passed. */
  readonly passed: { readonly from: boolean; readonly until: boolean };
  readonly result: R;
}

/** Stretches that are open and in equal states, told apart by nothing but where they began. */
export interface OpenStretches<S> {
  readonly state: S;
  /** The ticks at which the first and the last of them began. */
  readonly first: number;
  readonly last: number;
  readonly count: number;
}

/** The numbers of the patterns that bound a stretch; those of the inner claim come after them. */
export const [fromFits, untilFits, innerFits] = [0, 1, 2] as const;

/**
 * The stretches before any event.
 *
 * @param outside the state of the inner fold that has heard everything so far; none before the record begins
 */
export function noStretches<S, R>(
  claim: HeldDuring,
  fold: InnerFold<S, R>,
  since: number,
  outside: S | undefined,
  result: R,
): Stretches<S, R> {
  const stretches: Stretches<S, R> = {
    since,
    outside: outside ?? fold.start(since, undefined),
    open: [],
    passed: { from: false, until: false },
    result,
  };
  return claim.from === undefined ? opened(stretches, fold, since) : stretches;
}

/**
 * One more event. Bounds do not belong to a stretch: an event that ends one is heard by the others, and one
 * that begins one only by those that are open already.
 */
export function takeEvent<S, R>(
  claim: HeldDuring,
  fold: InnerFold<S, R>,
  before: Stretches<S, R>,
  event: Heard,
): Stretches<S, R> {
  let stretches = passMarks(claim, fold, before, event.tick);
  const { fits, tick, entry } = event;
  if (fits.includes(untilFits)) {
    stretches = claim.isOwnEnd
      ? endOwn(fold, stretches, entry.began, tick)
      : endAll(fold, stretches, tick);
  }
  stretches = hearInside(fold, stretches, event);
  if (fits.includes(fromFits) && (claim.isOwnEnd || stretches.open.length === 0))
    stretches = opened(stretches, fold, tick);
  return stretches;
}

/** Begins and ends stretches at marks that lie before a tick. */
export function passMarks<S, R>(
  { from, until }: HeldDuring,
  fold: InnerFold<S, R>,
  stretches: Stretches<S, R>,
  tick: number,
): Stretches<S, R> {
  const { since, passed } = stretches;
  let now = stretches;
  const isPassed = (bound: unknown) => isMark(bound) && bound.tick > since && bound.tick < tick;
  if (!passed.from && isPassed(from) && isMark(from)) {
    now = opened({ ...now, passed: { ...now.passed, from: true } }, fold, from.tick);
  }
  if (!passed.until && isPassed(until) && isMark(until)) {
    now = endAll(fold, { ...now, passed: { ...now.passed, until: true } }, until.tick);
  }
  return now;
}

function opened<S, R>(
  stretches: Stretches<S, R>,
  fold: InnerFold<S, R>,
  tick: number,
): Stretches<S, R> {
  const state = fold.start(tick, stretches.outside);
  const added = { state, first: tick, last: tick, count: 1 };
  return { ...stretches, open: merged(fold, [...stretches.open, added]) };
}

function endAll<S, R>(
  fold: InnerFold<S, R>,
  stretches: Stretches<S, R>,
  tick: number,
): Stretches<S, R> {
  if (stretches.open.length === 0) return stretches;
  const result = stretches.open.reduce(
    (found, { state, first }) => fold.ended(found, state, { after: first, before: tick }),
    stretches.result,
  );
  return { ...stretches, open: [], result };
}

/** Ends the one stretch that a call began, if it began one. */
function endOwn<S, R>(
  fold: InnerFold<S, R>,
  stretches: Stretches<S, R>,
  began: number,
  tick: number,
): Stretches<S, R> {
  const { open } = stretches;
  const at = open.findIndex(({ first, last }) => first <= began && began <= last);
  const group = open[at];
  if (group === undefined) return stretches;
  const { state, count } = group;
  const result = fold.ended(stretches.result, state, { after: began, before: tick });
  const left = count > 1 ? [{ ...group, count: count - 1 }] : [];
  return { ...stretches, open: [...open.slice(0, at), ...left, ...open.slice(at + 1)], result };
}

function hearInside<S, R>(
  fold: InnerFold<S, R>,
  stretches: Stretches<S, R>,
  event: Heard,
): Stretches<S, R> {
  const fits: number[] = [];
  for (const at of event.fits) if (at >= innerFits) fits.push(at - innerFits);
  const isBeginning = !event.end && fold.beginnings?.(event.entry.target) === true;
  if (fits.length === 0 && !isBeginning) return stretches;
  const { entry, end, tick } = event;
  const inside: Heard = { entry, end, tick, fits, before: false };
  const heardSince = (since: number): Heard =>
    entry.began <= since ? { ...inside, before: true } : inside;
  const outside = fold.take(stretches.outside, heardSince(stretches.since));
  let isChanged = outside !== stretches.outside;
  const open = stretches.open.map((group) => {
    const state = fold.take(group.state, heardSince(group.first));
    if (state === group.state) return group;
    isChanged = true;
    return { ...group, state };
  });
  return isChanged ? { ...stretches, outside, open: merged(fold, open) } : stretches;
}

/** Neighbours in equal states are one. */
function merged<S, R>(
  fold: InnerFold<S, R>,
  open: readonly OpenStretches<S>[],
): readonly OpenStretches<S>[] {
  if (open.length < 2 || fold.mindsBeginnings) return open;
  const groups: OpenStretches<S>[] = [];
  for (const group of open) {
    const last = groups[groups.length - 1];
    if (last === undefined || !fold.same(last.state, group.state)) groups.push(group);
    else
      groups[groups.length - 1] = {
        ...last,
        last: group.last,
        count: last.count + group.count,
      };
  }
  return groups;
}
