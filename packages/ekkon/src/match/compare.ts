import { shortValue } from '../notation/value.ts';
import { claimedOriginal } from '../value/claimed-copy.ts';
import { kindsAgree, prototypesAgree } from '../value/classes-agree.ts';
import { compareProperties } from '../value/compare-properties.ts';
import { isSeen } from '../value/compare-seen.ts';
import type { Comparison, Fit } from '../value/comparison.ts';
import { copyOf, isItsOwnCopy } from '../value/copy.ts';
import type { Difference } from '../value/difference.ts';
import { hasExtras } from '../value/extras.ts';
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
 * Holds a recorded value against a claimed one and says where they differ; nothing if they are equal.
 *
 * Leaves are compared by SameValueZero. A plain claimed object or array matches by own properties,
 * whatever the recorded prototype; a claimed instance needs the same prototype. Matchers may stand
 * anywhere in the claimed value. Both sides are copies (`copyOf`), so that nobody's code is run.
 *
 * Example: `compare({ seconds: 30 }, { seconds: 31 })` gives
 * `[{ path: ['seconds'], kind: 'changed', claimed: 30, recorded: 31 }]`.
 */
export function compare(
  claimed: unknown,
  recorded: unknown,
  context: Context = noContext,
): readonly Difference[] {
  const comparison = new Walk(context, differencesKept);
  comparison.walk(claimed, recorded);
  return comparison.found;
}

/** Whether a recorded value is as claimed: `compare`, ended at the first difference that is certain. */
export function fitOf(claimed: unknown, recorded: unknown, context: Context = noContext): Fit {
  if (claimed === recorded || fitsAtOnce(claimed, recorded, 0)) return ofItself.fit;
  const known = knownFit(claimed, recorded);
  if (known !== undefined) return known;
  const comparison = new Walk(context, 1);
  comparison.walk(claimed, recorded);
  if (comparison.isCostly) keepFit(claimed, recorded, comparison.fit);
  return comparison.fit;
}

/** What comparisons that cost much came to: a recorded value never changes, so none of them is made twice. */
const costly = new WeakMap<object, WeakMap<object, Fit>>();
let isAnyCostly = false;

function knownFit(claimed: unknown, recorded: unknown): Fit | undefined {
  if (!isAnyCostly || !isObject(claimed) || !isObject(recorded)) return undefined;
  return costly.get(claimed)?.get(recorded);
}

function keepFit(claimed: unknown, recorded: unknown, fit: Fit): void {
  if (!isObject(claimed) || !isObject(recorded) || runsCode(claimed)) return;
  isAnyCostly = true;
  const partners = costly.get(claimed) ?? new WeakMap<object, Fit>();
  costly.set(claimed, partners.set(recorded, fit));
}

function isObject(value: unknown): value is object {
  return typeof value === 'object' && value !== null;
}

/** How deep data is looked through at once. */
const levelsAtOnce = 6;

/**
 * Whether plain data is surely equal, told without a walk: by far the most frequent case. That it is not tells
 * nothing.
 */
function fitsAtOnce(claimed: unknown, recorded: unknown, level: number): boolean {
  if (claimed === recorded) return true;
  if (typeof claimed !== 'object' || claimed === null) return Object.is(claimed, recorded);
  if (level > levelsAtOnce || !arePlain(claimed, recorded)) return false;
  if (hasExtras(claimed) || hasExtras(recorded)) return false;
  const keys = Object.keys(claimed);
  const others = Object.keys(recorded);
  if (keys.length !== others.length) return false;
  for (let at = 0; at < keys.length; at++) {
    const key = keys[at] as string;
    if (key !== others[at]) return false;
    const [one, other] = [Reflect.get(claimed, key), Reflect.get(recorded, key)];
    if (!fitsAtOnce(one, other, level + 1)) return false;
  }
  return true;
}

/** A comparison of values that were not recorded by a ledger. */
export const noContext: Context = { originalOf: () => undefined, look: (instance) => instance };

/** More differences than anybody prints; the walk ends there. */
export const differencesKept = 200;

/**
 * From how many objects on it pays to remember which pairs were compared, for cycles and shared parts,
 * if it is only asked whether values are equal. A difference is to be told once, so that telling
 * them remembers from the start.
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
  private compared: [claimed: object, recorded: object][] | undefined;
  protected readonly context: Context;
  private readonly most: number;
  protected readonly work: Work;
  /** The walk that this one compares a part for, if it does. */
  private readonly outer: Walk | undefined;
  /** The collections that it is inside of, those of the outer walks too. */
  private around: Inside | undefined;
  /** What is known of pairs, by its parts. */
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
    this.work = outer?.work ?? { done: 0, collections: 0 };
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

  walk(claimed: unknown, recorded: unknown): void {
    if (claimed === recorded || this.full) return;
    if (typeof claimed !== 'object' || claimed === null) this.leaf(claimed, recorded);
    else this.object(claimed, recorded);
  }

  below(key: PropertyKey, claimed: unknown, recorded: unknown): void {
    if (claimed === recorded) return;
    this.path.push(key);
    this.walk(claimed, recorded);
    this.path.pop();
  }

  add(
    kind: Difference['kind'],
    claimed: unknown,
    recorded: unknown,
    more?: Partial<Difference>,
  ): void {
    this.note({ path: [...this.path], kind, claimed, recorded, ...more });
  }

  missing(key: PropertyKey, claimed: unknown): void {
    if (matchingOf(claimed)?.acceptsAbsence === true) return;
    this.note({ path: [...this.path, key], kind: 'missing', claimed });
  }

  surplus(key: PropertyKey, recorded: unknown): void {
    this.note({ path: [...this.path, key], kind: 'surplus', recorded });
  }

  moved(from: number, to: number, claimed: unknown, recorded: unknown): void {
    this.note({ path: [...this.path, to], kind: 'moved', claimed, recorded, from });
  }

  fitOf(claimed: unknown, recorded: unknown): Fit {
    if (claimed === recorded) return 'fits';
    const isKept =
      this.around?.around !== undefined && !isItsOwnCopy(claimed) && !isItsOwnCopy(recorded);
    const before = isKept ? this.knownFit(claimed, recorded) : undefined;
    if (before !== undefined) return before;
    const part = this.part();
    part.walk(claimed, recorded);
    const { fit } = part;
    if (isKept) this.keep(claimed, recorded, fit);
    // What a part found by taking for equal what it compares holds only if that is equal.
    if (fit === 'fits' && part.known !== undefined) {
      this.known ??= new Pairs();
      this.known.addAll(part.known);
    }
    return fit;
  }

  /** Whether a pair fits, as far as that is known; a pair that is being compared is taken for equal. */
  private knownFit(claimed: unknown, recorded: unknown): Fit | undefined {
    if (isInside(this.around, claimed, recorded)) return 'fits';
    const fit = this.work.differing?.get(claimed, recorded);
    if (fit !== undefined) return fit;
    for (let walk: Walk | undefined = this; walk !== undefined; walk = walk.outer) {
      const found = walk.known?.get(claimed, recorded);
      if (found !== undefined) return found;
    }
    return undefined;
  }

  private keep(claimed: unknown, recorded: unknown, fit: Fit): void {
    if (fit === 'differs') {
      this.work.differing ??= new Pairs();
      this.work.differing.set(claimed, recorded, fit);
    } else {
      this.known ??= new Pairs();
      this.known.set(claimed, recorded, fit);
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

  private leaf(claimed: unknown, recorded: unknown): void {
    if (Object.is(claimed, recorded)) return;
    if (isGap(recorded)) this.gap(recorded, claimed, recorded);
    else
      this.add(
        typeOfLeaf(claimed) === typeOfLeaf(recorded) ? 'changed' : 'type',
        claimed,
        recorded,
      );
  }

  /** What is found of the very object that was passed is no difference, whatever became of it since. */
  private object(claimed: object, recorded: unknown): void {
    const { length } = this.found;
    const { certain } = this;
    const compared = this.compared?.length ?? 0;
    this.compareObject(claimed, recorded);
    if (this.found.length === length || !this.isSame(claimed, recorded)) return;
    this.found.length = length;
    this.certain = certain;
    this.forget(compared);
  }

  /** Forgets the pairs compared since there were so many: where they stand elsewhere, what is found of them counts. */
  private forget(since: number): void {
    for (const [claimed, recorded] of this.compared?.splice(since) ?? [])
      this.seen?.get(claimed)?.delete(recorded);
    this.known = undefined;
  }

  private compareObject(claimed: object, recorded: unknown): void {
    if (arePlain(claimed, recorded)) {
      if (this.isNew(claimed, recorded)) compareProperties(this, claimed, recorded);
      return;
    }
    const matching = matchingOf(claimed);
    if (matching !== undefined) this.matcher(matching, claimed, recorded);
    else if (isGap(recorded)) this.gap(recorded, claimed, recorded);
    else if (isGap(claimed)) this.gap(claimed, claimed, recorded);
    else if (typeof recorded !== 'object' || recorded === null) this.add('type', claimed, recorded);
    else if (isRevealed(claimed) || isRevealed(recorded)) this.revealed(claimed, recorded);
    else if (isSeen(claimed) || isSeen(recorded)) kinds.platform.compare(this, claimed, recorded);
    else if (this.isNew(claimed, recorded)) this.objects(claimed, recorded);
  }

  /** Whether what was claimed is the object that was recorded, and not one that is equal. */
  private isSame(claimed: object, recorded: unknown): boolean {
    const original = this.originalOf(claimed);
    return original !== undefined && original === this.sourceOf(recorded);
  }

  /** The object that stands behind a recorded one. */
  protected behind(recorded: object): unknown {
    return sourceOf(recorded, this.context);
  }

  protected matcher(matching: MatcherParts, claimed: object, recorded: unknown): void {
    if (isGap(recorded) && matching.takesGaps !== true) {
      this.add('opaque', claimed, recorded, { why: recorded.gap });
      return;
    }
    if (matching.looksInside === true && isVeiled(recorded)) {
      this.add('opaque', claimed, recorded, { why: 'hidden' });
      return;
    }
    if (matching.looksInside === true) this.work.collections++;
    for (const difference of matching.differences(recorded, this.context)) {
      this.note({ ...difference, path: [...this.path, ...difference.path] });
    }
  }

  private gap(gap: Gap, claimed: unknown, recorded: unknown): void {
    this.add('opaque', claimed, recorded, { why: gap.gap });
  }

  /** An instance that was looked into when it was recorded; a plain literal may describe what was seen. */
  private revealed(claimed: object, recorded: object): void {
    const [one, other] = [this.look(claimed), this.look(recorded)];
    if (isRevealed(one) && isRevealed(other) && one.revealed === other.revealed) {
      this.walk(one.content, other.content);
    } else if (!isRevealed(one) && isRevealed(other) && isLiteral(claimed)) {
      this.walk(claimed, other.content);
    } else {
      this.add('type', claimed, recorded);
    }
  }

  /** Whether two objects differ by their class alone. */
  private sameFields(claimed: object, recorded: object): boolean {
    if (this.asksOnlyWhether) return false;
    const part = this.part();
    compareProperties(part, claimed, recorded);
    return part.fit === 'fits';
  }

  private look(value: object): Revealed | object {
    if (isRevealed(value) || isLiteral(value)) return value;
    const seen = this.context.look(claimedOriginal(value));
    return isRevealed(seen) ? seen : value;
  }

  isNew(claimed: object, recorded: object): boolean {
    for (let walk = this.outer; walk !== undefined; walk = walk.outer)
      if (walk.seen?.get(claimed)?.has(recorded)) return false;
    if (++this.work.done < rememberFrom && this.asksOnlyWhether) return true;
    if (this.work.done > workAllowed) {
      this.add('opaque', claimed, recorded, { why: 'bound' });
      return false;
    }
    this.seen ??= new Map();
    const partners = this.seen.get(claimed);
    if (partners === undefined) this.seen.set(claimed, new Set([recorded]));
    else if (partners.has(recorded)) return false;
    else partners.add(recorded);
    this.compared ??= [];
    this.compared.push([claimed, recorded]);
    return true;
  }

  private objects(claimed: object, recorded: object): void {
    const kind = kindOf(claimed);
    const other = kindOf(recorded);
    if (areVeiled(claimed, recorded)) {
      this.add('opaque', claimed, recorded, { why: 'hidden' });
      return;
    }
    if (!kindsAgree(kind, other) || !prototypesAgree(kind, claimed, recorded)) {
      const alike = kind === 'instance' && other !== 'hidden' && this.sameFields(claimed, recorded);
      this.add('type', claimed, recorded, alike ? { why: 'class' } : undefined);
      return;
    }
    const before = this.certain;
    kinds[kind].compare(this, claimed, recorded);
    // All that can be seen agrees: whether there is more decides.
    if (this.certain === before && getPrototypeOf(recorded) !== Object.prototype)
      if (hidesState(recorded)) this.add('opaque', claimed, recorded, { why: 'hidden' });
  }

  originalOf(claimed: unknown): unknown {
    if (typeof claimed !== 'object' || claimed === null) return undefined;
    if (isSnapshot(claimed)) return claimed.of;
    return isGap(claimed) ? claimed.source : claimedOriginal(claimed);
  }

  sourceOf(recorded: unknown): unknown {
    return typeof recorded === 'object' && recorded !== null ? this.behind(recorded) : undefined;
  }

  inside(claimed: object, recorded: object, compareParts: () => void): void {
    const around = this.around;
    const fit = around === undefined ? undefined : this.knownFit(claimed, recorded);
    if (fit === 'fits' || this.isSame(claimed, recorded)) return;
    if (around !== undefined && around.depth >= depthAllowed) {
      this.add('opaque', claimed, recorded, { why: 'bound' });
      return;
    }
    this.work.collections++;
    this.around = insideOf(claimed, recorded, around);
    compareParts();
    this.around = around;
  }

  copyOf(value: object): object {
    return copyOf(value);
  }

  /** Nobody reads a path if it is only asked whether values are equal. */
  placeOf(key: unknown): PropertyKey {
    if (this.asksOnlyWhether) return '';
    return typeof key === 'string' || typeof key === 'symbol' ? key : shortValue(key);
  }
}

/**
 * What is found of a value and itself. That there is always one walk has a purpose of its own: an engine
 * forgets the shape of objects none of which is left after a collection, and the code compiled for it.
 */
const ofItself = new Walk(noContext, 1);

/** Whether two objects are plain, so that nothing but their properties counts: the most frequent case by far. */
export function arePlain(claimed: object, recorded: unknown): recorded is object {
  return (
    typeof recorded === 'object' &&
    recorded !== null &&
    getPrototypeOf(claimed) === Object.prototype &&
    getPrototypeOf(recorded) === Object.prototype &&
    !Array.isArray(claimed) &&
    !Array.isArray(recorded)
  );
}

const { getPrototypeOf } = Object;

function typeOfLeaf(value: unknown): string {
  return value === null ? 'null' : typeof value;
}

/** Whether one of two objects of a class is one that cannot be looked into. */
function areVeiled(claimed: object, recorded: object): boolean {
  if (!isVeiled(claimed) && !isVeiled(recorded)) return false;
  return prototypesAgree('hidden', claimed, recorded);
}

function isLiteral(value: object): boolean {
  const kind = kindOf(value);
  return kind === 'plain' || kind === 'array';
}
