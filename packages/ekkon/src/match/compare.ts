import { shortValue } from '../notation/value.ts';
import { claimedOriginal } from '../value/claimed-copy.ts';
import { kindsAgree, prototypesAgree } from '../value/classes-agree.ts';
import { compareProperties } from '../value/compare-properties.ts';
import { isSeen } from '../value/compare-seen.ts';
import type { Comparison, Fit } from '../value/comparison.ts';
import { copyOf, isItsOwnCopy } from '../value/copy.ts';
import type { Difference } from '../value/difference.ts';
import { hasExtras } from '../value/extras.ts';
import { isKnownPart } from '../value/framework-parts.ts';
import { type Gap, isGap } from '../value/gap.ts';
import { hidesState } from '../value/hidden-state.ts';
import { isVeiled, kindOf } from '../value/kind.ts';
import { kinds } from '../value/kinds/table.ts';
import { isRevealed, type Revealed } from '../value/revealed.ts';
import { isSnapshot } from '../value/snapshot.ts';
import { type Inside, insideOf, isInside, Pairs, type Work } from './inside.ts';
import { type Context, type MatcherParts, matchingOf } from './matcher.ts';
import { runsCode } from './runs-code.ts';
import { sourceOf } from './source-of.ts';

/**
 * Compares a received value with an expected one and returns the differences; none if they are equal.
 *
 * Leaves are compared by SameValueZero. A plain expected object or array matches by own properties, whatever the
 * received prototype; an expected instance needs the same prototype. Matchers may stand anywhere in the expected
 * value. Both sides are copies (`copyOf`), so no foreign code runs.
 *
 * Example: `compare({ seconds: 30 }, { seconds: 31 })` returns `[{ path: ['seconds'], kind: 'changed', expected: 30,
 * received: 31 }]`.
 */
export function compare(
  expected: unknown,
  received: unknown,
  context: Context = noContext,
): readonly Difference[] {
  const comparison = new Walk(context, differencesKept);
  comparison.walk(expected, received);
  return comparison.found;
}

/** Whether a received value is as expected: `compare`, ended at the first difference that is certain. */
export function fitOf(expected: unknown, received: unknown, context: Context = noContext): Fit {
  if (expected === received || fitsAtOnce(expected, received, 0)) return ofItself.fit;
  const known = knownFit(expected, received);
  if (known !== undefined) return known;
  const comparison = new Walk(context, 1);
  comparison.walk(expected, received);
  if (comparison.isCostly) keepFit(expected, received, comparison.fit);
  return comparison.fit;
}

/** The results of costly comparisons: a received value never changes, so none is made twice. */
const costly = new WeakMap<object, WeakMap<object, Fit>>();
let isAnyCostly = false;

function knownFit(expected: unknown, received: unknown): Fit | undefined {
  if (!isAnyCostly || !isObject(expected) || !isObject(received)) return undefined;
  return costly.get(expected)?.get(received);
}

function keepFit(expected: unknown, received: unknown, fit: Fit): void {
  if (!isObject(expected) || !isObject(received) || runsCode(expected)) return;
  isAnyCostly = true;
  const partners = costly.get(expected) ?? new WeakMap<object, Fit>();
  costly.set(expected, partners.set(received, fit));
}

function isObject(value: unknown): value is object {
  return typeof value === 'object' && value !== null;
}

/** How deep data is looked through at once. */
const levelsAtOnce = 6;

/**
 * Whether plain data is surely equal, told without a walk: by far the most frequent case. `false` says
 * nothing.
 */
function fitsAtOnce(expected: unknown, received: unknown, level: number): boolean {
  if (expected === received) return true;
  if (typeof expected !== 'object' || expected === null) return Object.is(expected, received);
  if (level > levelsAtOnce || !arePlain(expected, received)) return false;
  if (hasExtras(expected) || hasExtras(received)) return false;
  const keys = Object.keys(expected);
  const others = Object.keys(received);
  if (keys.length !== others.length) return false;
  for (let at = 0; at < keys.length; at++) {
    const key = keys[at] as string;
    if (key !== others[at]) return false;
    const [one, other] = [Reflect.get(expected, key), Reflect.get(received, key)];
    if (!fitsAtOnce(one, other, level + 1)) return false;
  }
  return true;
}

/** A comparison of values that were not recorded by a ledger. */
export const noContext: Context = { originalOf: () => undefined, look: (instance) => instance };

/** More differences than anybody prints; the walk ends there. */
export const differencesKept = 200;

/**
 * From how many objects on it pays to remember compared pairs, for cycles and shared parts, if only equality matters.
 * Differences are reported once, so reporting them remembers pairs from the start.
 */
const rememberFrom = 500;

/** How many pairs of objects one comparison looks at before it gives up, and says so. */
const workAllowed = 3_000_000;

/** How many collections inside of one another one comparison looks into. */
const depthAllowed = 200;

export class Walk implements Comparison {
  readonly found: Difference[] = [];
  readonly path: PropertyKey[] = [];
  /** How many of those found are certain. */
  certain = 0;
  private seen: Map<object, Set<object>> | undefined;
  /** The pairs in `seen`, in the order in which they were compared. */
  private compared: [expected: object, received: object][] | undefined;
  protected readonly context: Context;
  private readonly most: number;
  protected readonly work: Work;
  /** The walk that this one compares a part for, if it does. */
  private readonly outer: Walk | undefined;
  /** The collections that it is inside of, those of the outer walks too. */
  private around: Inside | undefined;
  /** The known results of pairs, by their parts. */
  private known: Pairs | undefined;

  /**
   * @param most how many certain differences to look for
   * @param outer the walk that this is a part of
   */
  constructor(context: Context, most: number, outer?: Walk) {
    this.context = context;
    this.most = most;
    this.outer = outer;
    this.around = outer?.around;
    this.work = outer?.work ?? { done: 0, collections: 0, found: 0 };
  }

  get full(): boolean {
    return (
      this.certain >= this.most || (!this.asksOnlyWhether && this.found.length >= differencesKept)
    );
  }

  /** Whether it looked into collections, or at many objects. */
  get isCostly(): boolean {
    return this.work.collections > 0 || this.work.done > rememberFrom;
  }

  get asksOnlyWhether(): boolean {
    return this.most === 1;
  }

  get fit(): Fit {
    if (this.found.length === 0) return 'fits';
    return this.certain === 0 ? 'undecided' : 'differs';
  }

  walk(expected: unknown, received: unknown): void {
    if (expected === received || this.full) return;
    if (typeof expected !== 'object' || expected === null) this.leaf(expected, received);
    else this.object(expected, received);
  }

  below(key: PropertyKey, expected: unknown, received: unknown): void {
    if (expected === received) return;
    this.path.push(key);
    this.walk(expected, received);
    this.path.pop();
  }

  add(
    kind: Difference['kind'],
    expected: unknown,
    received: unknown,
    more?: Partial<Difference>,
  ): void {
    this.note({ path: [...this.path], kind, expected, received, ...more });
  }

  missing(key: PropertyKey, expected: unknown): void {
    if (matchingOf(expected)?.acceptsAbsence === true) return;
    this.note({ path: [...this.path, key], kind: 'missing', expected });
  }

  surplus(key: PropertyKey, received: unknown): void {
    this.note({ path: [...this.path, key], kind: 'surplus', received });
  }

  moved(from: number, to: number, expected: unknown, received: unknown): void {
    this.note({ path: [...this.path, to], kind: 'moved', expected, received, from });
  }

  fitOf(expected: unknown, received: unknown): Fit {
    if (expected === received) return 'fits';
    const isKept = !isItsOwnCopy(expected) && !isItsOwnCopy(received);
    const before = isKept ? this.knownFit(expected, received) : undefined;
    if (before !== undefined) return before;
    const isOutermost = this.outer === undefined || !this.asksOnlyWhether;
    const fit = isOutermost
      ? this.fitInPasses(expected, received)
      : this.partFit(expected, received);
    if (isKept && this.around?.around !== undefined) this.keep(expected, received, fit);
    return fit;
  }

  private partFit(expected: unknown, received: unknown): Fit {
    const part = this.part();
    part.walk(expected, received);
    return part.fit;
  }

  /**
   * Whether a pair matches, with every pair met on the way assumed equal until a pass refutes it. The passes repeat
   * until one refutes nothing new; the remaining assumptions are true.
   */
  private fitInPasses(expected: unknown, received: unknown): Fit {
    const { work } = this;
    for (;;) {
      const { found } = work;
      work.assumed = undefined;
      const fit = this.partFit(expected, received);
      const { assumed } = work as { assumed: Pairs | undefined };
      work.assumed = undefined;
      if (fit !== 'differs' && work.found > found) continue;
      if (fit !== 'differs' && assumed !== undefined) {
        this.known ??= new Pairs();
        this.known.addAll(assumed);
      }
      return fit;
    }
  }

  /** Whether a pair fits, as far as that is known; a pair that is being compared is taken for equal. */
  private knownFit(expected: unknown, received: unknown): Fit | undefined {
    if (isInside(this.around, expected, received)) return 'fits';
    const { decided, assumed } = this.work;
    const fit = decided?.get(expected, received) ?? assumed?.get(expected, received);
    if (fit !== undefined) return fit;
    for (let walk: Walk | undefined = this; walk !== undefined; walk = walk.outer) {
      const found = walk.known?.get(expected, received);
      if (found !== undefined) return found;
    }
    return undefined;
  }

  private keep(expected: unknown, received: unknown, fit: Fit): void {
    const { work } = this;
    if (fit === 'fits') {
      work.assumed ??= new Pairs();
      work.assumed.set(expected, received, fit);
    } else {
      work.decided ??= new Pairs();
      work.decided.set(expected, received, fit);
      work.found++;
    }
  }

  /** A walk over a part of the same comparison, to be ended at the first certain difference. */
  protected part(): Walk {
    return new Walk(this.context, 1, this);
  }

  private note(difference: Difference): void {
    if (this.full) return;
    if (this.found.length < differencesKept || difference.kind !== 'opaque')
      this.found.push(difference);
    if (difference.kind !== 'opaque') this.certain++;
  }

  private leaf(expected: unknown, received: unknown): void {
    if (Object.is(expected, received)) return;
    if (isGap(received)) this.gap(received, expected, received);
    else
      this.add(
        typeOfLeaf(expected) === typeOfLeaf(received) ? 'changed' : 'type',
        expected,
        received,
      );
  }

  /** A difference from the very object that was passed does not count, however it has changed since. */
  private object(expected: object, received: unknown): void {
    const { length } = this.found;
    const { certain } = this;
    const compared = this.compared?.length ?? 0;
    this.compareObject(expected, received);
    if (this.found.length === length || !this.isSame(expected, received)) return;
    this.found.length = length;
    this.certain = certain;
    this.forget(compared);
  }

  /** Forgets the pairs compared since there were so many: if they occur elsewhere, their differences count. */
  private forget(since: number): void {
    for (const [expected, received] of this.compared?.splice(since) ?? [])
      this.seen?.get(expected)?.delete(received);
    this.known = undefined;
  }

  private compareObject(expected: object, received: unknown): void {
    if (arePlain(expected, received)) {
      if (this.isNew(expected, received)) compareProperties(this, expected, received);
      return;
    }
    const matching = matchingOf(expected);
    if (matching !== undefined) this.matcher(matching, expected, received);
    else if (isGap(received)) this.gap(received, expected, received);
    else if (isGap(expected)) this.gap(expected, expected, received);
    else if (typeof received !== 'object' || received === null)
      this.add('type', expected, received);
    else if (isRevealed(expected) || isRevealed(received)) this.revealed(expected, received);
    else if (isSeen(expected) || isSeen(received)) kinds.platform.compare(this, expected, received);
    else if (this.isNew(expected, received)) this.objects(expected, received);
  }

  /** Whether the expected value is the recorded object itself, and not only equal to it. */
  private isSame(expected: object, received: unknown): boolean {
    const original = this.originalOf(expected);
    return original !== undefined && original === this.sourceOf(received);
  }

  /** The object that stands behind a received one. */
  protected behind(received: object): unknown {
    return sourceOf(received, this.context);
  }

  protected matcher(matching: MatcherParts, expected: object, received: unknown): void {
    if (isGap(received) && matching.takesGaps !== true) {
      this.add('opaque', expected, received, { why: received.gap });
      return;
    }
    if (matching.looksInside === true && isVeiled(received)) {
      this.add('opaque', expected, received, { why: 'hidden' });
      return;
    }
    if (matching.looksInside === true) this.work.collections++;
    for (const difference of matching.differences(received, this.context)) {
      this.note({ ...difference, path: [...this.path, ...difference.path] });
    }
  }

  private gap(gap: Gap, expected: unknown, received: unknown): void {
    this.add('opaque', expected, received, { why: gap.gap });
  }

  /** An instance whose state was revealed when it was recorded; a plain literal may describe that state. */
  private revealed(expected: object, received: object): void {
    const [one, other] = [this.look(expected), this.look(received)];
    if (isRevealed(one) && isRevealed(other) && one.revealed === other.revealed) {
      this.walk(one.content, other.content);
    } else if (!isRevealed(one) && isRevealed(other) && isLiteral(expected)) {
      this.walk(expected, other.content);
    } else {
      this.add('type', expected, received);
    }
  }

  /** Whether two objects differ by their class alone. */
  private sameFields(expected: object, received: object): boolean {
    if (this.asksOnlyWhether) return false;
    const part = this.part();
    compareProperties(part, expected, received);
    return part.fit === 'fits';
  }

  private look(value: object): Revealed | object {
    if (isRevealed(value) || isLiteral(value)) return value;
    const seen = this.context.look(claimedOriginal(value));
    return isRevealed(seen) ? seen : value;
  }

  isNew(expected: object, received: object): boolean {
    for (let walk = this.outer; walk !== undefined; walk = walk.outer)
      if (walk.seen?.get(expected)?.has(received)) return false;
    if (++this.work.done < rememberFrom && this.asksOnlyWhether) return true;
    if (this.work.done > workAllowed) {
      this.add('opaque', expected, received, { why: 'bound' });
      return false;
    }
    this.seen ??= new Map();
    const partners = this.seen.get(expected);
    if (partners === undefined) this.seen.set(expected, new Set([received]));
    else if (partners.has(received)) return false;
    else partners.add(received);
    this.compared ??= [];
    this.compared.push([expected, received]);
    return true;
  }

  private objects(expected: object, received: object): void {
    const kind = kindOf(expected);
    const other = kindOf(received);
    if (areVeiled(expected, received)) {
      this.add('opaque', expected, received, { why: 'hidden' });
      return;
    }
    if (!kindsAgree(kind, other) || !prototypesAgree(kind, expected, received)) {
      const alike =
        kind === 'instance' && other !== 'hidden' && this.sameFields(expected, received);
      this.add('type', expected, received, alike ? { why: 'class' } : undefined);
      return;
    }
    const before = this.certain;
    kinds[kind].compare(this, expected, received);
    // All that can be seen agrees: whether there is more decides.
    if (this.certain === before && isOfClass(received) && hidesState(received))
      this.add('opaque', expected, received, { why: 'hidden' });
  }

  originalOf(expected: unknown): unknown {
    if (typeof expected !== 'object' || expected === null) return undefined;
    if (isSnapshot(expected)) return expected.of;
    return isGap(expected) ? expected.source : claimedOriginal(expected);
  }

  sourceOf(received: unknown): unknown {
    return typeof received === 'object' && received !== null ? this.behind(received) : undefined;
  }

  inside(expected: object, received: object, compareParts: () => void): void {
    const around = this.around;
    const fit = around === undefined ? undefined : this.knownFit(expected, received);
    if (fit === 'fits' || this.isSame(expected, received)) return;
    if (around !== undefined && around.depth >= depthAllowed) {
      this.add('opaque', expected, received, { why: 'bound' });
      return;
    }
    this.work.collections++;
    const { known } = this;
    // Differences inside may hold only if these two are equal.
    if (known !== undefined) this.known = new Pairs(known);
    this.around = insideOf(expected, received, around);
    compareParts();
    this.around = around;
    this.known = known;
  }

  copyOf(value: object): object {
    return copyOf(value);
  }

  /** Paths are not needed if only equality matters. */
  placeOf(key: unknown): PropertyKey {
    if (this.asksOnlyWhether) return '';
    return typeof key === 'string' || typeof key === 'symbol' ? key : shortValue(key);
  }
}

/** Keeps one walk alive, so the engine does not drop the shape of such objects and the code compiled for it. */
const ofItself = new Walk(noContext, 1);

/** Whether two objects are plain, so only their properties count: the most frequent case by far. */
export function arePlain(expected: object, received: unknown): received is object {
  return (
    typeof received === 'object' &&
    received !== null &&
    getPrototypeOf(expected) === Object.prototype &&
    getPrototypeOf(received) === Object.prototype &&
    !Array.isArray(expected) &&
    !Array.isArray(received) &&
    !isKnownPart(expected) &&
    !isKnownPart(received)
  );
}

const { getPrototypeOf } = Object;

/** Whether an object is of somebody's class, which may hide state. */
function isOfClass(value: object): boolean {
  const prototype: unknown = getPrototypeOf(value);
  return prototype !== Object.prototype && prototype !== Array.prototype && prototype !== null;
}

function typeOfLeaf(value: unknown): string {
  return value === null ? 'null' : typeof value;
}

/** Whether one of two objects of a class is one that cannot be looked into. */
function areVeiled(expected: object, received: object): boolean {
  if (!isVeiled(expected) && !isVeiled(received)) return false;
  return prototypesAgree('hidden', expected, received);
}

function isLiteral(value: object): boolean {
  const kind = kindOf(value);
  return kind === 'plain' || kind === 'array';
}
