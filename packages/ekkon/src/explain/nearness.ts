import { anything } from '../match/anything.ts';
import { fitOf, noContext } from '../match/compare.ts';
import { matchingOf } from '../match/matcher.ts';
import { sameValue } from '../match/same-value.ts';
import { callsOf, type HeldEvent, isEnd } from '../pattern/event.ts';
import { eventDifferences, speaksOf } from '../pattern/fit.ts';
import type { HeldEntry } from '../record/journal.ts';
import { type Difference, distanceOf } from '../value/difference.ts';
import { grouped } from '../value/grouped.ts';
import { isPrimitive } from '../value/is-primitive.ts';
import { isOwn } from '../value/prints-as.ts';

/** How near a call is to a pattern that it does not match. */
export interface HowNear {
  /** 0 if it matches. Each argument adds at most 1, and less if it is equal in most calls of the member. */
  readonly distance: number;
  /** Whether an argument that tells calls apart is nearly as expected, so this call may be the intended one. */
  readonly agrees: boolean;
  /** Whether an argument of which the pattern says something is nearly as expected, whether or not it tells calls apart. */
  readonly agreesInSaid: boolean;
  /**
   * Whether it may be meant if no other call is left: enough of it is as expected, or of the same type, or the member
   * has no other call.
   */
  readonly isAlike: boolean;
}

/** Calls of one member that an argument is compared in, to see how much it tells. */
const callsCompared = 40;

/** From this share of a value on, an argument no longer agrees. */
const farFrom = 0.5;

/** A call that agrees in none of so many parts that tell calls apart is another one. */
const toldLeast = 3;

/** Up to this share, a text may be another one misspelled. */
const nearText = 0.25;

/** What one difference more adds to a distance: it decides between calls that are equally far. */
const perDifference = 0.01;

/** How much nearer a call is by an object or a list of its own that is as it was written in the pattern. */
const ofWritten = 0.5;

/** How far off arguments are on average, at most, if a call is like the one that is expected. */
const alikeUpTo = 0.75;

/** Tells how near calls are to a pattern, given the entries among which they are. */
export function nearnessTo(event: HeldEvent, entries: readonly HeldEntry[]): Nearness {
  return new Nearness(event, entries);
}

/** Tells how near the calls of a pattern's member are to it, argument by argument. */
class Nearness {
  private readonly event: HeldEvent;
  private readonly calls: readonly HeldEntry[];
  private readonly entries: readonly HeldEntry[];
  private readonly values = new Map<string, ReadonlySet<unknown>>();
  private tellingPaths: readonly string[] | undefined;

  /** @param entries those among which the calls are */
  constructor(event: HeldEvent, entries: readonly HeldEntry[]) {
    this.event = event;
    this.entries = entries;
    const calls: HeldEntry[] = [];
    for (const entry of entries) {
      if (calls.length >= callsCompared) break;
      if (speaksOf(callsOf(event), entry)) calls.push(entry);
    }
    this.calls = calls;
  }

  /** The distance if every argument told as much: to choose those that are worth a closer look. */
  roughly(entry: HeldEntry): number {
    const { differences, ofEnd, parts } = this.parts(entry);
    return parts.reduce((sum, off) => sum + off, ofEnd + countedAs(differences));
  }

  /** The rough distance as a part of what the pattern says: it compares the calls of patterns that say more or less. */
  partly(entry: HeldEntry): number {
    const { claimed } = callsOf(this.event);
    const said = claimed?.items.filter((item) => item !== anything).length ?? 0;
    return this.roughly(entry) / Math.max(1, said + (isEnd(this.event) ? 1 : 0));
  }

  of(entry: HeldEntry): HowNear {
    const { differences, ofEnd, parts, isWhole, isOfOtherKind } = this.parts(entry);
    let distance = ofEnd + countedAs(differences);
    let agrees = isWhole || (ofEnd > 0 && parts.every((off) => off === 0));
    let agreesInSaid = isWhole;
    const items = callsOf(this.event).claimed?.items ?? [];
    parts.forEach((off, at) => {
      const tells = this.tells(entry, at);
      distance += off * (0.5 + 0.5 * tells);
      if (off === 0 && tells === 1 && isWritten(items[at])) distance -= ofWritten;
      if (off <= farFrom && tells > 0.5) agrees = true;
      // `anything` agrees with every call.
      if (off <= farFrom && at < items.length && items[at] !== anything) agreesInSaid = true;
    });
    distance = Math.max(0, distance);
    const whole = parts.reduce((sum, off) => sum + off, 0);
    const isOnly = this.calls.length === 1;
    if (this.isLessOne(entry)) agrees = agreesInSaid = true;
    const isAlike = agrees || isOnly || whole <= alikeUpTo * parts.length;
    const { told, agreed } = this.toldApartBy(differences);
    if (isOfOtherKind || (told >= toldLeast && agreed === 0))
      return { distance, agrees: false, agreesInSaid: false, isAlike: false };
    if (told > 1 && 2 * agreed >= told) return { distance, agrees: true, agreesInSaid, isAlike };
    return { distance, agrees, agreesInSaid, isAlike };
  }

  /**
   * How much of each argument is not as expected; `isWhole` if it cannot be told argument by argument. A call is of
   * another kind if it has a text that other calls have too, such as the name of an event, where a different one is
   * expected, and the rest of it is not as expected.
   */
  private parts(entry: HeldEntry): {
    readonly differences: readonly Difference[];
    readonly ofEnd: number;
    readonly parts: readonly number[];
    readonly isWhole: boolean;
    readonly isOfOtherKind: boolean;
  } {
    const differences = eventDifferences(this.event, entry);
    const { claimed, lens } = callsOf(this.event);
    if (claimed === undefined || lens !== undefined)
      return {
        differences,
        ofEnd: distanceOf(differences),
        parts: [],
        isWhole: true,
        isOfOtherKind: false,
      };
    const byPlace = grouped(differences, ({ path: [place] }) => place);
    const places = Math.max(claimed.items.length, claimed.rest ? 0 : entry.args.length);
    const parts: number[] = [];
    const ofKinds: number[] = [];
    for (let at = 0; at < places; at++) {
      const own = byPlace.get(at) ?? [];
      const off = partOff(own, claimed.items[at]);
      if (off > nearText && this.isOthersText(entry, own[0], at)) ofKinds.push(at);
      const isAnother = ofKinds.includes(at) || own.some((each) => this.isAnotherValue(each));
      parts.push(isAnother ? Math.max(off, alikeUpTo) : off);
    }
    const ofEnd = differences.filter(({ path: [place] }) => typeof place !== 'number');
    const said = claimed.items.flatMap((item, at) =>
      item === anything || ofKinds.includes(at) ? [] : [parts[at]],
    );
    const isOfOtherKind = ofKinds.length > 0 && said.some((off) => off !== 0);
    return { differences, ofEnd: distanceOf(ofEnd), parts, isWhole: false, isOfOtherKind };
  }

  /**
   * By how many parts of their arguments the calls of the member are told apart: those that are not as expected in at
   * least half of them. And in how many of these a call is as expected, given its differences.
   */
  private toldApartBy(differences: readonly Difference[]): {
    readonly told: number;
    readonly agreed: number;
  } {
    if (this.calls.length < 2) return { told: 0, agreed: 0 };
    this.tellingPaths ??= this.findTellingPaths();
    const own = new Set(differences.filter(({ kind }) => kind !== 'moved').map(pathOf));
    const agreed = this.tellingPaths.filter((path) => !own.has(path));
    return { told: this.tellingPaths.length, agreed: agreed.length };
  }

  private findTellingPaths(): readonly string[] {
    const paths = this.calls.flatMap((call) => eventDifferences(this.event, call).map(pathOf));
    return [...grouped(paths, (path) => path)].flatMap(([path, those]) =>
      2 * those.length >= this.calls.length ? [path] : [],
    );
  }

  /** Whether a call has all arguments that the pattern expects but one, in their order. */
  private isLessOne({ args }: HeldEntry): boolean {
    const items = callsOf(this.event).claimed?.items ?? [];
    if (args.length !== items.length - 1 || !args.some((arg) => !isPrimitive(arg))) return false;
    const isThere = (from: number) => (arg: unknown, at: number) =>
      fitOf(items[at + from], arg, noContext) === 'fits';
    const first = args.findIndex((arg, at) => !isThere(0)(arg, at));
    return first >= 0 && args.slice(first).every(isThere(first + 1));
  }

  /** Whether a text differs that other calls have there too. */
  private isOthersText(entry: HeldEntry, difference: Difference | undefined, at: number): boolean {
    if (difference?.kind !== 'changed' || difference.path.length > 1) return false;
    const { expected, received } = difference;
    if (typeof expected !== 'string' || typeof received !== 'string') return false;
    return this.calls.some((call) => call !== entry && call.args[at] === received);
  }

  /** Whether another call has the expected value there: then the received one is another value, not a misspelled one. */
  private isAnotherValue(difference: Difference): boolean {
    const { kind, expected } = difference;
    return kind === 'changed' && isPrimitive(expected) && this.valuesAt(difference).has(expected);
  }

  /** The values that all calls of the member have at a place. */
  private valuesAt(difference: Difference): ReadonlySet<unknown> {
    const key = pathOf(difference);
    const known = this.values.get(key);
    if (known !== undefined) return known;
    const calls = this.entries.filter((entry) => speaksOf(callsOf(this.event), entry));
    const values = new Set(calls.map(({ args }) => partAt(args, difference.path)));
    this.values.set(key, values);
    return values;
  }

  /** How rare the argument of a call is among the calls of the member: 1 if no other has an equal one there. */
  private tells(entry: HeldEntry, at: number): number {
    const others = this.calls.filter((call) => call !== entry);
    if (others.length === 0) return 1;
    const value = entry.args[at];
    const equal = others.filter(({ args }) => sameValue(args[at], value)).length;
    return 1 - equal / others.length;
  }
}

/** Whether an expected argument is an object or a list that is written out. */
function isWritten(item: unknown): boolean {
  return !isPrimitive(item) && typeof item === 'object' && !isOwn(item);
}

/** What the number of some differences adds to a distance; what is only at another place is one with what is there. */
function countedAs(differences: readonly Difference[]): number {
  return perDifference * differences.filter(({ kind }) => kind !== 'moved').length;
}

/** The value at a path of plain properties; `undefined` if there is none. */
function partAt(held: unknown, path: readonly PropertyKey[]): unknown {
  let value = held;
  for (const key of path) {
    if (isPrimitive(value)) return undefined;
    value = Object.getOwnPropertyDescriptor(value, key)?.value;
  }
  return value;
}

function pathOf({ path }: Difference): string {
  return path.map(String).join('\n');
}

/** How much of one argument is not as expected: 0 if nothing differs, 1 if all of it does. */
function partOff(differences: readonly Difference[], expected: unknown): number {
  if (differences.length === 0) return 0;
  const [first] = differences;
  if (first !== undefined && first.path.length === 1) return wholeOff(first);
  let off = 0;
  for (const difference of differences) off += isLeft(difference) ? 1 : wholeOff(difference);
  return Math.min(1, off / Math.max(leavesIn(expected), differences.length));
}

/** Whether a part is on one side only. */
function isLeft({ kind }: Difference): boolean {
  return kind === 'missing' || kind === 'surplus';
}

/** How far off an argument, or a part of one, is that differs as a whole. */
function wholeOff(difference: Difference): number {
  const { kind, expected, received, why } = difference;
  if (kind === 'moved' || received instanceof Promise) return farFrom;
  if (holds(received, expected)) return 0.25;
  if (why === 'another') return alikeUpTo;
  // A number that was given as a text is the number that was meant.
  if (isPrimitive(expected) && isPrimitive(received) && String(expected) === String(received))
    return 0.25;
  // A value that got lost.
  if (isLeft(difference) || received === undefined) return alikeUpTo;
  if (typeof expected === 'string' && typeof received === 'string') {
    const off = Math.min(1, 2 * (distanceOf([difference]) - 0.5));
    return isPartOf(expected, received) || isPartOf(received, expected)
      ? Math.min(farFrom, off)
      : off;
  }
  if (kind === 'changed' && typeof expected === typeof received && isPrimitive(expected))
    return alikeUpTo;
  return Math.min(1, distanceOf([difference]));
}

/** Whether an object has a text or a number of some length as a property: then it was given instead of that. */
function holds(received: unknown, expected: unknown): boolean {
  const isLong = typeof expected === 'string' || typeof expected === 'number';
  if (!isLong || String(expected).length < partLeast || isPrimitive(received)) return false;
  return Object.values(Object.getOwnPropertyDescriptors(received)).some(
    ({ value }) => value === expected,
  );
}

/** Whether a text of some length stands in another, as `p-4` in `parcel:p-4`. */
function isPartOf(one: string, other: string): boolean {
  return one.length >= partLeast && other.includes(one);
}

/** Characters that a part of a text has at least. */
const partLeast = 2;

const leavesCounted = 100;

/** How many values an expected one holds, at most 100; of a matcher, how many it was given. */
function leavesIn(value: unknown, left = leavesCounted): number {
  if (isPrimitive(value) || left <= 0) return 1;
  if (isOwn(value)) return leavesIn(matchingOf(value)?.parameters, left);
  let count = 0;
  for (const key of Object.keys(value as object)) {
    const descriptor = Object.getOwnPropertyDescriptor(value, key);
    if (descriptor !== undefined && 'value' in descriptor)
      count += leavesIn(descriptor.value, left - 1 - count);
    if (count >= left) break;
  }
  return Math.max(1, count);
}
