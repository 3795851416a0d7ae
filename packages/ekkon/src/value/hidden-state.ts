import {
  bodyOf,
  closeOf,
  closes,
  isBound,
  isStart,
  isWord,
  opens,
  sourcesOf,
  valueAt,
  type Word,
  withoutInner,
  wordsOf,
} from './class-source.ts';
import { handsOn } from './hands-on.ts';
import { recognise } from './platform/table.ts';

/** Whether instances of one class, without those that it is derived from, hide state. */
const known = new WeakMap<object, boolean>();

/**
 * Whether instances hold state beside their own properties, as far as the source of their classes shows: in private
 * fields, in the form that compilers give these, or elsewhere under `this`. Private methods, statics, and `#` in
 * texts, templates, comments and patterns hide nothing. An instance without own properties whose class passes it on
 * counts as hiding state.
 *
 * State in a variable around a function of the class is invisible.
 */
export function hidesState(instance: object): boolean {
  const first: object | null = Object.getPrototypeOf(instance);
  if (first === null || first === Array.prototype) return false;
  const hides = remembered(whole, first, () => classesOf(first).some(prototypeHides));
  if (hides || Reflect.ownKeys(instance).length > 0) return hides;
  return remembered(handed, first, () => chainHandsOn(first));
}

/** The same of a class with those that it is derived from. */
const whole = new WeakMap<object, boolean>();

/** Whether a class, or one that it is derived from, hands its instances on. */
const handed = new WeakMap<object, boolean>();

function remembered(
  known: WeakMap<object, boolean>,
  prototype: object,
  find: () => boolean,
): boolean {
  const told = known.get(prototype);
  if (told !== undefined) return told;
  const found = find();
  known.set(prototype, found);
  return found;
}

/** The prototypes of an instance up to the platform's: those of classes whose source may tell. */
function classesOf(first: object): readonly object[] {
  const chain: object[] = [];
  for (let at: object | null = first; at !== null && chain.length < 64; ) {
    const next: object | null = Object.getPrototypeOf(at);
    if (isRoot(at, next) || recognise(at)?.prototype === at) break;
    chain.push(at);
    at = next;
  }
  return chain;
}

/** Whether a prototype is the root of all objects, in any realm. */
function isRoot(prototype: object, next: object | null): boolean {
  return next === null && Object.hasOwn(prototype, 'hasOwnProperty');
}

function chainHandsOn(first: object): boolean {
  const chain = classesOf(first);
  const constructors = chain.map(
    (each) => Object.getOwnPropertyDescriptor(each, 'constructor')?.value,
  );
  const names = new Set(
    constructors.map((each) => (typeof each === 'function' ? String(each.name) : '')),
  );
  return chain.some((each) => sourcesOf(each).some((source) => handsOn(source, names)));
}

function prototypeHides(prototype: object): boolean {
  return remembered(known, prototype, () => sourcesOf(prototype).some(sourceHides));
}

/** Whether the source of one class, or of the functions that make one up, keeps state out of sight. */
export function sourceHides(source: string): boolean {
  // By far the most classes have neither a private name nor a `this` that is handed on.
  if (!/#|\baccessor\b|\bthis\s*[,/]/.test(source)) return false;
  const words = wordsOf(source);
  return declaresField(words) || keepsElsewhere(withoutInner(words));
}

/**
 * Whether a class declares a private field of its instances, or an accessor that has one: at the level of
 * its own body, where a name that is followed by parameters is a method's.
 */
function declaresField(words: readonly Word[]): boolean {
  let depth = 0;
  const body = bodyOf(words);
  for (let at = body; at < words.length; at++) {
    const { type, value } = words[at] as Word;
    if (opens(type, value)) depth++;
    if (closes(type, value) && --depth === 0) return false;
    if (depth !== 1 || at === body) continue;
    const [before, after] = [valueAt(words, at - 1), valueAt(words, at + 1)];
    const isName = type === 'PrivateIdentifier' && !['.', '?.'].includes(before) && after !== 'in';
    const isAccessor =
      value === 'accessor' && isStart(before) && /^(#|\[|[\p{ID_Start}$_'"\d])/u.test(after);
    if (isAccessor && before !== 'static') return true;
    if (isName && after !== '(' && before !== 'static' && before !== 'accessor') return true;
  }
  return false;
}

/**
 * Whether state is kept elsewhere under `this`: `map.set(this, …)`, or a compiler's helper for that, under any name:
 * `add(this, map, value)`, or `add(this, map)` and then `get(this, map)` or `set(this, map, value)`. A private method
 * is added as well, and then read as `method(this, set, code)` or `method(set, this, code)`. A map that is added and
 * not used in the class itself may belong to a private method, which such compilers put outside.
 */
function keepsElsewhere(words: readonly Word[]): boolean {
  const own = words.find(({ type }, at) => type === 'IdentifierName' && at > 0)?.value;
  const selves = namesOfThis(words, own);
  const helpers = new Map<string, string>();
  for (let at = 0; at < words.length; at++) {
    if (valueAt(words, at) !== '(' || !selves.has(valueAt(words, at + 1))) continue;
    if (valueAt(words, at + 2) !== ',') continue;
    const [callee, before] = [valueAt(words, at - 1), valueAt(words, at - 2)];
    if (callee === 'set' && (before === '.' || before === '?.')) return true;
    const place = words[at + 3];
    const isHelper = words[at - 1]?.type === 'IdentifierName' && before !== '.' && !isWord(callee);
    if (!isHelper || place?.type !== 'IdentifierName' || place.value === own) continue;
    const after = valueAt(words, at + 4);
    if ((after !== ',' && after !== ')') || isBound(words, place.value)) continue;
    if (after === ',') {
      const isMethod = helpers.has(place.value) && isCodeNamed(words, at + 5);
      if (countOfArguments(words, at) === 3 && !isMethodCall(words, at) && !isMethod) return true;
      continue;
    }
    const other = helpers.get(place.value);
    const isUsed = words.filter(({ value }) => value === place.value).length > 1;
    if (!isUsed || (other !== undefined && other !== callee)) return true;
    helpers.set(place.value, callee);
  }
  return false;
}

/** Whether an argument is no more than a name from around the class: the code of a private accessor. */
function isCodeNamed(words: readonly Word[], at: number): boolean {
  const word = words[at];
  if (word?.type !== 'IdentifierName' || valueAt(words, at + 1) !== ')') return false;
  return !isBound(words, word.value);
}

/** `this`, and the name that a constructor compiled to a function gives it after the parent's call. */
function namesOfThis(words: readonly Word[], own: string | undefined): ReadonlySet<string> {
  const names = new Set(['this', '_this']);
  words.forEach(({ value }, at) => {
    const isMade =
      value === '=' && valueAt(words, at + 2) === '(' && valueAt(words, at + 3) === 'this';
    if (isMade && own !== undefined && valueAt(words, at + 5) === own)
      names.add(valueAt(words, at - 1));
  });
  return names;
}

function countOfArguments(words: readonly Word[], open: number): number {
  let [depth, commas] = [0, 0];
  for (let at = open; at < closeOf(words, open); at++) {
    const { type, value } = words[at] as Word;
    if (opens(type, value)) depth++;
    if (closes(type, value)) depth--;
    if (depth === 1 && value === ',') commas++;
  }
  return commas + 1;
}

/** Whether a helper's call at a parenthesis gives a private method, which is called at once. */
function isMethodCall(words: readonly Word[], open: number): boolean {
  const close = closeOf(words, open);
  return (
    valueAt(words, close + 1) === '.' &&
    ['call', 'apply', 'bind'].includes(valueAt(words, close + 2))
  );
}
