import jsTokens from 'js-tokens';
import { realBehind } from './tie.ts';

/** The source of a class; of one that is a function, that of its methods as well. */
export function sourcesOf(prototype: object): readonly string[] {
  const descriptors = Object.values(Object.getOwnPropertyDescriptors(prototype));
  const functions = descriptors.flatMap(({ value, get, set }) => [value, get, set]);
  const sources = functions.filter((each) => typeof each === 'function').map(sourceOf);
  const made: unknown = Object.getOwnPropertyDescriptor(prototype, 'constructor')?.value;
  const whole = typeof made === 'function' ? sourceOf(made) : '';
  return /^class\b/.test(whole) ? [whole] : [sources.join('\n;\n')];
}

/** The source of a function, or of the real one that a replacement stands for. */
export function sourceOf(code: unknown): string {
  return Function.prototype.toString.call(realBehind(code));
}

export interface Word {
  readonly type: string;
  readonly value: string;
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
export function withoutInner(words: readonly Word[]): readonly Word[] {
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

/** The start of a class body: its brace, after the `extends` clause. */
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

/** Whether a name is a parameter or a variable of the class's own code. */
export function isBound(words: readonly Word[], name: string): boolean {
  if (
    ['this', 'null', 'undefined', 'void', 'arguments', 'true', 'false', 'new', 'function'].includes(
      name,
    )
  )
    return true;
  return words.some(({ type, value }, at) => {
    if (type !== 'IdentifierName' || value !== name || valueAt(words, at + 1) === ':') return false;
    const before = valueAt(words, at - 1);
    if (isDeclaring(before) || valueAt(words, at + 1) === '=>') return true;
    return ['(', ',', '...', '{', '[', ':'].includes(before) && isInPattern(words, at);
  });
}

/** Whether a name stands among parameters, that is in a list before a body, or in a declared pattern: `const { name } = …`. */
function isInPattern(words: readonly Word[], at: number): boolean {
  let depth = 0;
  for (let place = at - 1; place >= 0; place--) {
    const { type, value } = words[place] as Word;
    const before = valueAt(words, place - 1);
    if (closes(type, value)) depth++;
    else if (opens(type, value) && depth > 0) depth--;
    else if (value === ';' && depth === 0) return false;
    else if (value === '(') {
      const isCondition = ['if', 'while', 'for', 'switch', 'with'].includes(before);
      return !isCondition && ['{', '=>'].includes(valueAt(words, closeOf(words, place) + 1));
    } else if (opens(type, value) && isDeclaring(before)) return true;
  }
  return false;
}

function isDeclaring(word: string): boolean {
  return word === 'var' || word === 'let' || word === 'const';
}

export function closeOf(words: readonly Word[], open: number): number {
  let depth = 0;
  for (let at = open; at < words.length; at++) {
    const { type, value } = words[at] as Word;
    if (opens(type, value)) depth++;
    if (closes(type, value) && --depth === 0) return at;
  }
  return words.length;
}

/** Whether a name before parentheses calls nothing: a keyword. */
export function isWord(name: string): boolean {
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
