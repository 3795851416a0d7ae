import jsTokens from 'js-tokens';
import { recognise } from './platform/table.ts';
import { tied } from './tie.ts';

/** What a class's source tells of the state that its instances keep where nobody can look. */
const known = new WeakMap<object, boolean>();

/**
 * Whether instances hold state beside their own properties, as far as the source of their classes shows it: in
 * private fields, in what compilers turn these into, or kept elsewhere under `this`. Private methods,
 * statics, and `#` in texts, templates, comments and patterns hide nothing.
 *
 * State that a function of a class keeps in a variable around it cannot be seen by anybody.
 */
export function hidesState(instance: object): boolean {
  const first: object | null = Object.getPrototypeOf(instance);
  if (first === null || first === Array.prototype) return false;
  const told = whole.get(first);
  if (told !== undefined) return told;
  const hides = chainHides(first);
  whole.set(first, hides);
  return hides;
}

/** The same of a class with those that it is derived from. */
const whole = new WeakMap<object, boolean>();

function chainHides(first: object): boolean {
  let prototype: object | null = first;
  for (let depth = 0; prototype !== null && depth < 64; depth++) {
    const next: object | null = Object.getPrototypeOf(prototype);
    if (next === null || recognise(prototype)?.prototype === prototype) return false;
    if (prototypeHides(prototype)) return true;
    prototype = next;
  }
  return false;
}

function prototypeHides(prototype: object): boolean {
  const before = known.get(prototype);
  if (before !== undefined) return before;
  const hides = sourcesOf(prototype).some(sourceHides);
  known.set(prototype, hides);
  return hides;
}

/** The source of a class; of one that is a function, that of its methods as well. */
function sourcesOf(prototype: object): readonly string[] {
  const descriptors = Object.values(Object.getOwnPropertyDescriptors(prototype));
  const functions = descriptors.flatMap(({ value, get, set }) => [value, get, set]);
  const sources = functions.filter((each) => typeof each === 'function').map(sourceOf);
  const made: unknown = Object.getOwnPropertyDescriptor(prototype, 'constructor')?.value;
  const whole = typeof made === 'function' ? sourceOf(made) : '';
  return /^class\b/.test(whole) ? [whole] : [sources.join('\n;\n')];
}

/** The source of a function, or of the real one that a replacement stands for. */
export function sourceOf(code: unknown): string {
  const held = tied(code);
  return Function.prototype.toString.call(held?.is === 'member' ? (held.real ?? code) : code);
}

export interface Word {
  readonly type: string;
  readonly value: string;
}

/** Whether the source of one class, or of the functions that make one up, keeps state out of sight. */
export function sourceHides(source: string): boolean {
  // By far the most classes have neither a private name nor a `this` that is handed on.
  if (!/#|\baccessor\b|\bthis\s*[,/]/.test(source)) return false;
  const words = wordsOf(source);
  return declaresField(words) || keepsElsewhere(withoutInner(words));
}

/** The tokens of a source without blanks and comments. */
export function wordsOf(source: string): readonly Word[] {
  const words: Word[] = [];
  for (const { type, value } of jsTokens(source)) {
    if (!/Comment$|^WhiteSpace$|^LineTerminatorSequence$/.test(type)) words.push({ type, value });
  }
  return words;
}

/** Leaves out the classes and functions inside, which have a `this` of their own. */
function withoutInner(words: readonly Word[]): readonly Word[] {
  const kept: Word[] = [];
  let depth = 0;
  for (let at = 0; at < words.length; at++) {
    const word = words[at] as Word;
    const { type, value } = word;
    const isInner = depth > 0 && type === 'IdentifierName' && valueAt(words, at - 1) !== '.';
    if (isInner && (value === 'class' || value === 'function') && valueAt(words, at + 1) !== ':') {
      at = closeOf(words, value === 'class' ? bodyOf(words, at) : bodyOfFunction(words, at));
      continue;
    }
    if (opens(type, value)) depth++;
    if (closes(type, value)) depth--;
    kept.push(word);
  }
  return kept;
}

/** Where the body of a function begins: the brace after its parameters. */
function bodyOfFunction(words: readonly Word[], at: number): number {
  const open = words.findIndex(({ value }, place) => place > at && value === '(');
  return open < 0 ? words.length : closeOf(words, open) + 1;
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

/** Where the body of a class begins: its brace, after what it extends. */
export function bodyOf(words: readonly Word[], from = 0): number {
  if (words[from]?.value !== 'class') return words.length;
  let depth = 0;
  for (let at = from + 1; at < words.length; at++) {
    const { type, value } = words[at] as Word;
    const isBody = value === '{' && depth === 0 && !isOperand(words, at);
    if (isBody) return at;
    // A parent that is written in place has a body of its own.
    if (value === 'class' && depth === 0) {
      at = closeOf(words, bodyOf(words, at));
      continue;
    }
    if (opens(type, value)) depth++;
    if (closes(type, value)) depth--;
  }
  return words.length;
}

/** Whether a brace after `extends` begins an object, and not yet the body: `extends mix({})` is told by depth. */
function isOperand(words: readonly Word[], at: number): boolean {
  return ['extends', ',', '(', '=', '=>'].includes(valueAt(words, at - 1));
}

export function opens(type: string, value: string): boolean {
  return type === 'TemplateHead' || (type === 'Punctuator' && ['{', '(', '['].includes(value));
}

export function closes(type: string, value: string): boolean {
  return type === 'TemplateTail' || (type === 'Punctuator' && ['}', ')', ']'].includes(value));
}

/** Whether a member of a class may begin after this. */
export function isStart(before: string): boolean {
  return ['{', '}', ';', 'static'].includes(before) || !/[=(,+\-*/&|?:.]$/.test(before);
}

export function valueAt(words: readonly Word[], at: number): string {
  return words[at]?.value ?? '';
}

/**
 * Whether state is kept elsewhere under `this`: `map.set(this, …)`, or a helper of a compiler that does so,
 * whatever it is called after minifying: `add(this, map, value)`, or `add(this, map)` and then
 * `get(this, map)` or `set(this, map, value)`. A private method is added as well, and then asked for as
 * `method(this, set, code)` or `method(set, this, code)`. What is added and not used in the class itself may
 * be used by a private method, which such compilers put outside.
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

/** `this`, and what a constructor turned into a function calls it after its parent's has run. */
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

/** Whether a name cannot be a helper: a keyword before parentheses. */
function isWord(name: string): boolean {
  return [
    'if',
    'for',
    'while',
    'switch',
    'return',
    'super',
    'function',
    'typeof',
    'await',
  ].includes(name);
}

/** Whether a name is a parameter or a variable of the class's own code. */
function isBound(words: readonly Word[], name: string): boolean {
  if (
    ['this', 'null', 'undefined', 'void', 'arguments', 'true', 'false', 'new', 'function'].includes(
      name,
    )
  )
    return true;
  return words.some(({ type, value }, at) => {
    if (type !== 'IdentifierName' || value !== name || valueAt(words, at + 1) === ':') return false;
    if (['var', 'let', 'const'].includes(valueAt(words, at - 1))) return true;
    return isParameter(words, at);
  });
}

/** Whether a name stands in a list that is followed by a body: a parameter. */
function isParameter(words: readonly Word[], at: number): boolean {
  if (!['(', ',', '...', '{', '['].includes(valueAt(words, at - 1))) {
    return valueAt(words, at + 1) === '=>';
  }
  let depth = 0;
  for (let next = at + 1; next < words.length; next++) {
    const { type, value } = words[next] as Word;
    if (opens(type, value)) depth++;
    if (closes(type, value) && --depth < 0) {
      if (value !== ')') continue;
      return ['{', '=>'].includes(valueAt(words, next + 1));
    }
    if (value === ';') return false;
  }
  return false;
}

/** Whether a helper's call at a parenthesis gives a private method, which is called at once. */
function isMethodCall(words: readonly Word[], open: number): boolean {
  const close = closeOf(words, open);
  return (
    valueAt(words, close + 1) === '.' &&
    ['call', 'apply', 'bind'].includes(valueAt(words, close + 2))
  );
}

function closeOf(words: readonly Word[], open: number): number {
  let depth = 0;
  for (let at = open; at < words.length; at++) {
    const { type, value } = words[at] as Word;
    if (opens(type, value)) depth++;
    if (closes(type, value) && --depth === 0) return at;
  }
  return words.length;
}
