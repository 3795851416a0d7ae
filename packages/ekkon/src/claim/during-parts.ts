import type { Diagnosis } from '../explain/finding.ts';
import type { Window } from '../explain/window.ts';
import type { HeldEvent } from '../pattern/event.ts';
import { entryData } from '../record/entry-data.ts';
import { eventsOf } from '../record/events.ts';
import { type HeldMark, isMark } from '../record/mark.ts';
import { type HeldBound, type HeldDuring, printDuring, sameBound } from './during.ts';
import type { ClaimParts, Evidence, Hearing, HeldClaimBase, Standing, View } from './parts.ts';
import {
  type InnerFold,
  innerFits,
  noStretches,
  type OpenStretches,
  passMarks,
  type Stretches,
  takeEvent,
  untilFits,
} from './stretches.ts';

/** The parts of any claim, its state unknown here. */
export type AnyParts = ClaimParts<HeldClaimBase, unknown>;

/** The result of the stretches that have ended. */
interface Ended {
  /** The first in which the claim did not hold, and the state in which it was. */
  readonly failed: (Window & { readonly state: unknown }) | undefined;
  /** Whether there was a stretch, and one in which the claim's events occurred. */
  readonly occurred: boolean;
  readonly innerOccurred: boolean;
  /** The event that never occurred, in the last stretch in which it did not. */
  readonly absent: HeldEvent | HeldMark | undefined;
}

type State = Stretches<unknown, Ended>;

const noneEnded: Ended = {
  failed: undefined,
  occurred: false,
  innerOccurred: false,
  absent: undefined,
};

/** Claims on a claim that may not exist yet cannot be judged on evidence: inner claims need none. */
const noEvidence = undefined as unknown as Evidence;

/**
 * A claim in every stretch: the inner claim's fold begins with each stretch and ends with it.
 *
 * @param partsOf finds the parts of the inner claim
 */
export function makeDuringParts(
  partsOf: (claim: HeldClaimBase) => AnyParts,
): ClaimParts<HeldDuring, State> {
  return {
    inner: (claim) => claim.inner,
    begins: ({ from }) => from,
    hears: (claim) => hearingOf(claim, partsOf(claim.inner).hears(claim.inner)),
    // Events outside all stretches go on whenever the outer stretch began.
    start: (claim, since, outside) =>
      noStretches(claim, innerFold(claim, partsOf), since, outside?.outside, noneEnded),
    take: (claim, state, event) => takeEvent(claim, innerFold(claim, partsOf), state, event),
    same: (claim, one, other) => sameStretches(innerFold(claim, partsOf), one, other),
    closed(claim, state, tick) {
      const inner = partsOf(claim.inner);
      const now = passMarks(claim, innerFold(claim, partsOf), state, tick);
      const open = now.open.map((group) => {
        const held = inner.closed?.(claim.inner, group.state, tick) ?? group.state;
        return { ...group, state: held };
      });
      return { ...now, open, passed: { from: true, until: true } };
    },
    stands: (claim, state) => standsOf(claim, settled(claim, state), partsOf(claim.inner)),
    hopes(claim, state, isAlive) {
      const now = settled(claim, state);
      const inner = partsOf(claim.inner);
      if (now.result.failed !== undefined) return false;
      const isOpenHopeful = (group: OpenStretches<unknown>) =>
        inner.hopes?.(claim.inner, group.state, isAlive) ?? true;
      if (!claim.endedOnly && !now.open.every(isOpenHopeful)) return false;
      const { from } = claim;
      const canBegin = from === undefined || isMark(from) || isAlive(from);
      return now.result.occurred || now.open.length > 0 || canBegin;
    },
    absent: (claim, state) => absentIn(claim, settled(claim, state), partsOf(claim.inner)),
    mindsBeginnings: ({ inner }) => partsOf(inner).mindsBeginnings?.(inner) ?? false,
    explain: (claim, view, state) => explainDuring(claim, view, settled(claim, state), partsOf),
    uses: ({ inner }) => partsOf(inner).uses(inner),
    canComeTrue: ({ inner }) => partsOf(inner).canComeTrue(inner),
    canBreak: () => true,
    holdsOfNothing: ({ inner }) => partsOf(inner).holdsOfNothing(inner),
    guarded: ({ inner }) => partsOf(inner).guarded?.(inner),
    isAlwaysTrue: ({ inner }) => partsOf(inner).isAlwaysTrue(inner),
    equal: (one, other) =>
      one.endedOnly === other.endedOnly &&
      sameBound(one.from, other.from) &&
      sameBound(one.until, other.until) &&
      one.inner.kind === other.inner.kind &&
      partsOf(one.inner).equal(one.inner, other.inner),
    print: printDuring,
  };

  function settled(claim: HeldDuring, state: State): State {
    return passMarks(claim, innerFold(claim, partsOf), state, Number.POSITIVE_INFINITY);
  }
}

/** The bounds come first, then the events that the inner claim hears. */
export function hearingOf(claim: HeldDuring, inner: Hearing): Hearing {
  const closing = new Set([untilFits as number]);
  for (const at of inner.closing ?? []) closing.add(at + innerFits);
  return {
    events: [boundEvent(claim.from), boundEvent(claim.until), ...inner.events],
    closing,
    ...(inner.beginnings === undefined ? {} : { beginnings: inner.beginnings }),
  };
}

/** A mark is not an event that a pattern could fit. */
function boundEvent(bound: HeldBound | undefined): HeldEvent | undefined {
  return bound === undefined || isMark(bound) ? undefined : bound;
}

function innerFold(
  { inner }: HeldDuring,
  partsOf: (claim: HeldClaimBase) => AnyParts,
): InnerFold<unknown, Ended> {
  const parts = partsOf(inner);
  return {
    start: (since, outside) => parts.start(inner, since, outside),
    take: (state, event) => parts.take(inner, state, event),
    same: (one, other) => parts.same(inner, one, other),
    ended: (result, state, stretch) => afterStretch(result, state, stretch, inner, parts),
    mindsBeginnings: parts.mindsBeginnings?.(inner) ?? false,
    beginnings: parts.hears(inner).beginnings,
  };
}

function afterStretch(
  { failed, innerOccurred, absent }: Ended,
  before: unknown,
  stretch: Window,
  inner: HeldClaimBase,
  parts: AnyParts,
): Ended {
  const state = parts.closed?.(inner, before, stretch.before) ?? before;
  const holds = parts.stands(inner, state, noEvidence) === 'holds';
  const absentHere = parts.absent(inner, state);
  return {
    failed: failed ?? (holds ? undefined : { ...stretch, state }),
    occurred: true,
    innerOccurred: innerOccurred || absentHere === undefined,
    absent: absentHere ?? absent,
  };
}

function standsOf(claim: HeldDuring, { open, result }: State, inner: AnyParts): Standing {
  if (result.failed !== undefined) return 'lost';
  // A stretch that may never end decides nothing before it does.
  if (claim.endedOnly) return 'holds';
  let standing: Standing = 'holds';
  for (const { state } of open) {
    const here = inner.stands(claim.inner, state, noEvidence);
    if (here === 'lost') return 'lost';
    if (here === 'open') standing = here;
  }
  return standing;
}

function absentIn(
  claim: HeldDuring,
  { open, result }: State,
  inner: AnyParts,
): HeldEvent | HeldMark | undefined {
  const counted = claim.endedOnly ? [] : open;
  if (!result.occurred && counted.length === 0) return claim.from ?? claim.until;
  if (result.innerOccurred) return undefined;
  let absent = result.absent;
  for (const { state } of counted) {
    const here = inner.absent(claim.inner, state);
    if (here === undefined) return undefined;
    absent = here;
  }
  return absent;
}

function sameStretches(fold: InnerFold<unknown, Ended>, one: State, other: State): boolean {
  if (one === other) return true;
  const [ended, another] = [one.result, other.result];
  if (ended.failed !== undefined && another.failed !== undefined) return true;
  return (
    (ended.failed === undefined) === (another.failed === undefined) &&
    ended.occurred === another.occurred &&
    ended.innerOccurred === another.innerOccurred &&
    one.passed.from === other.passed.from &&
    one.passed.until === other.passed.until &&
    one.open.length === other.open.length &&
    fold.same(one.outside, other.outside) &&
    one.open.every((group, at) => sameGroup(fold, group, other.open[at]))
  );
}

function sameGroup(
  fold: InnerFold<unknown, Ended>,
  one: OpenStretches<unknown>,
  other: OpenStretches<unknown> | undefined,
): boolean {
  return (
    other !== undefined &&
    one.first === other.first &&
    one.last === other.last &&
    one.count === other.count &&
    fold.same(one.state, other.state)
  );
}

/** Why the claim does not hold in the first stretch in which it does not. */
function explainDuring(
  claim: HeldDuring,
  view: View,
  { open, result }: State,
  partsOf: (claim: HeldClaimBase) => AnyParts,
): Diagnosis | undefined {
  const { inner } = claim;
  const parts = partsOf(inner);
  const unmet = open.find(({ state }) => parts.stands(inner, state, noEvidence) !== 'holds');
  const stretch =
    result.failed ??
    (unmet && { after: unmet.first, before: view.window.before, state: unmet.state });
  if (stretch === undefined) return undefined;
  const { after, before, state } = stretch;
  const diagnosis = parts.explain(inner, { ...view, window: { after, before } }, state);
  if (diagnosis === undefined) return undefined;
  const began = eventsOf(view.evidence.journal)[after - 1];
  const from = began === undefined || isMark(began) ? undefined : entryData(began);
  return {
    ...diagnosis,
    claim: claim.notation,
    of: claim,
    stretch: diagnosis.stretch ?? { after, before, from },
  };
}
