import { isGap } from '../record/gap.ts';
import { type Kind, kindOf } from '../record/kind.ts';
import { compareArrays } from './compare-arrays.ts';
import { compareMaps, compareSets } from './compare-collections.ts';
import { compareProperties } from './compare-properties.ts';
import { compareState } from './compare-state.ts';
import type { Difference } from './difference.ts';
import { matchingOf, type Recorded } from './matcher.ts';

/**
 * Holds a recorded value against a claimed one and says where they differ; nothing where they are equal.
 *
 * Leaves are compared by SameValueZero. A plain claimed object or array matches by own properties,
 * whatever the recorded prototype; a claimed instance needs the same prototype. Matchers may stand
 * anywhere in the claimed value. Both sides are copies (`copyOf`), so that nobody's code is run.
 *
 * @example
 * compare({ seconds: 30 }, { seconds: 31 }); // [{ path: ['seconds'], kind: 'changed', claimed: 30, recorded: 31 }]
 */
export function compare(
  claimed: unknown,
  recorded: unknown,
  about: Recorded = nothingKnown,
): readonly Difference[] {
  const comparison = new Comparison(about, differencesKept);
  comparison.walk(claimed, recorded);
  return comparison.found;
}

/** Whether a recorded value is as claimed: `compare`, ended at the first difference. */
export function fits(claimed: unknown, recorded: unknown, about: Recorded = nothingKnown): boolean {
  const comparison = new Comparison(about, 1);
  comparison.walk(claimed, recorded);
  return comparison.found.length === 0;
}

export const nothingKnown: Recorded = { originalOf: () => undefined };

/** More differences than anybody reads; the walk ends there. */
export const differencesKept = 200;

/** From how many objects on it pays to remember which pairs were compared: cycles, and shared parts. */
const rememberFrom = 500;

/** How many pairs of objects one comparison looks at before it gives up, and says so. */
const workAllowed = 3_000_000;

/** One comparison under way: the parts for each kind of value walk on through it. */
export class Comparison {
  readonly found: Difference[] = [];
  readonly path: PropertyKey[] = [];
  private seen: Map<object, Set<object>> | undefined;
  private readonly about: Recorded;
  private readonly most: number;
  private readonly work: { done: number };

  constructor(about: Recorded, most: number, work: { done: number } = { done: 0 }) {
    this.about = about;
    this.most = most;
    this.work = work;
  }

  /** Whether as many differences were found as anybody asked for. */
  get full(): boolean {
    return this.found.length >= this.most;
  }

  /** Whether one difference is enough, so that none has to be told well. */
  get asksOnlyWhether(): boolean {
    return this.most === 1;
  }

  walk(claimed: unknown, recorded: unknown): void {
    if (claimed === recorded || this.full) return;
    if (typeof claimed !== 'object' || claimed === null) {
      if (Object.is(claimed, recorded)) return;
      if (isGap(recorded)) this.gap(claimed, recorded);
      else
        this.add(
          typeOfLeaf(claimed) === typeOfLeaf(recorded) ? 'changed' : 'type',
          claimed,
          recorded,
        );
      return;
    }
    const matching = matchingOf(claimed);
    if (matching !== undefined) this.take(matching.differences(recorded, this.about));
    else if (isGap(recorded) || isGap(claimed)) this.gap(claimed, recorded);
    else if (typeof recorded !== 'object' || recorded === null) this.add('type', claimed, recorded);
    else if (this.isNew(claimed, recorded)) this.objects(claimed, recorded);
  }

  /** Walks on below a property, an index or a key. */
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
    if (!this.full) this.found.push({ path: [...this.path], kind, claimed, recorded, ...more });
  }

  missing(key: PropertyKey, claimed: unknown): void {
    if (matchingOf(claimed)?.acceptsAbsence === true || this.full) return;
    this.found.push({ path: [...this.path, key], kind: 'missing', claimed });
  }

  surplus(key: PropertyKey, recorded: unknown): void {
    if (!this.full) this.found.push({ path: [...this.path, key], kind: 'surplus', recorded });
  }

  /** Notes that a value claimed at one place was recorded at another. */
  moved(from: number, to: number, claimed: unknown, recorded: unknown): void {
    if (!this.full)
      this.found.push({ path: [...this.path, to], kind: 'moved', claimed, recorded, from });
  }

  /** Whether two parts are equal, without noting why not. */
  fits(claimed: unknown, recorded: unknown): boolean {
    if (claimed === recorded) return true;
    const part = new Comparison(this.about, 1, this.work);
    part.walk(claimed, recorded);
    return part.found.length === 0;
  }

  private take(differences: readonly Difference[]): void {
    for (const difference of differences) {
      if (this.full) return;
      this.found.push({ ...difference, path: [...this.path, ...difference.path] });
    }
  }

  private gap(claimed: unknown, recorded: unknown): void {
    const gap = isGap(recorded) ? recorded : claimed;
    if (!isGap(gap)) return;
    // The same accessor, or the same object that nobody can look into, is the same thing.
    const same =
      isGap(claimed) &&
      isGap(recorded) &&
      gap.source !== undefined &&
      claimed.source === recorded.source;
    if (!same) this.add('opaque', claimed, recorded, { why: gap.gap });
  }

  private isNew(claimed: object, recorded: object): boolean {
    if (++this.work.done < rememberFrom) return true;
    if (this.work.done > workAllowed) {
      this.add('opaque', claimed, recorded, { why: 'bound' });
      return false;
    }
    this.seen ??= new Map();
    const partners = this.seen.get(claimed);
    if (partners === undefined) this.seen.set(claimed, new Set([recorded]));
    else if (partners.has(recorded)) return false;
    else partners.add(recorded);
    return true;
  }

  private objects(claimed: object, recorded: object): void {
    const kind = kindOf(claimed);
    const other = kindOf(recorded);
    if (!comparable(kind, other) || !prototypesAgree(kind, claimed, recorded)) {
      this.add('type', claimed, recorded);
      return;
    }
    switch (kind) {
      case 'plain':
      case 'instance':
        if (other === 'hidden') this.add('opaque', claimed, recorded, { why: 'hidden' });
        else compareProperties(this, claimed, recorded);
        return;
      case 'array':
        compareArrays(this, claimed as unknown[], recorded as unknown[]);
        return;
      case 'map':
        compareMaps(this, claimed as Map<unknown, unknown>, recorded as Map<unknown, unknown>);
        break;
      case 'set':
        compareSets(this, claimed as Set<unknown>, recorded as Set<unknown>);
        break;
      case 'hidden':
        this.add('opaque', claimed, recorded, { why: 'hidden' });
        return;
      case 'kept':
        this.add('changed', claimed, recorded);
        return;
      default:
        compareState(this, kind, claimed, recorded);
        return;
    }
    compareProperties(this, claimed, recorded);
  }
}

function typeOfLeaf(value: unknown): string {
  return value === null ? 'null' : typeof value;
}

/** A plain literal may describe an instance, and an instance without own properties hides its state. */
function comparable(claimed: Kind, recorded: Kind): boolean {
  if (claimed === recorded) return true;
  const shown: readonly Kind[] = ['plain', 'instance', 'hidden'];
  return shown.includes(claimed) && shown.includes(recorded);
}

function prototypesAgree(kind: Kind, claimed: object, recorded: object): boolean {
  const prototype = Object.getPrototypeOf(claimed);
  if (kind === 'plain' || kind === 'kept') return true;
  if (kind === 'array' && prototype === Array.prototype) return true;
  return prototype === Object.getPrototypeOf(recorded);
}
