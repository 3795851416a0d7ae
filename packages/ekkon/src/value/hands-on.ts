import {
  closes,
  isBound,
  isWord,
  opens,
  valueAt,
  type Word,
  withoutInner,
  wordsOf,
} from './class-source.ts';

/**
 * Whether the source of a class passes an instance on to foreign code: `init(this, state)`, `states.get(this)`. Then
 * an instance without own properties may keep its state elsewhere, or have none; nothing shows which.
 *
 * These pass nothing on: a method called on it, a parent's constructor, and the output of compilers for private
 * methods. Received functions and the platform's own keep nothing.
 *
 * @param source of a class, or of the functions that make one up
 * @param parents the names of its parent classes
 */
export function handsOn(source: string, parents: ReadonlySet<string>): boolean {
  if (!/\bthis\b/.test(source)) return false;
  const words = withoutInner(wordsOf(source));
  const selves = aliasesOfThis(words);
  return words.some(
    ({ type, value }, at) =>
      type === 'IdentifierName' &&
      selves.has(value) &&
      isPassed(words, at) &&
      !isMark(words, at) &&
      !isShown(words, at) &&
      !isOwnCall(words, at, parents),
  );
}

/** `this`, and the names that it is given: `const self = this`. */
function aliasesOfThis(words: readonly Word[]): ReadonlySet<string> {
  const names = new Set(['this']);
  words.forEach(({ type, value }, at) => {
    const isAlias = type === 'IdentifierName' && valueAt(words, at + 1) === '=';
    const ends = [';', ',', '}', ''].includes(valueAt(words, at + 3));
    if (isAlias && valueAt(words, at + 2) === 'this' && ends && valueAt(words, at - 1) !== '.')
      names.add(value);
  });
  return names;
}

/** Whether a name stands alone among arguments, or in a list or an object: it is handed to somebody. */
function isPassed(words: readonly Word[], at: number): boolean {
  const [before, after] = [valueAt(words, at - 1), valueAt(words, at + 1)];
  if (before === '(') return (after === ',' || after === ')') && isCall(words, at - 1);
  if (before === ':') return after === ',' || after === '}';
  return [',', '['].includes(before) && [',', ')', ']', '}'].includes(after);
}

function isCall(words: readonly Word[], open: number): boolean {
  const before = words[open - 1];
  if (before === undefined || isWord(before.value)) return false;
  return (
    before.type === 'IdentifierName' ||
    before.type === 'PrivateIdentifier' ||
    [')', ']', '?.'].includes(before.value)
  );
}

/**
 * Whether the instance is shown to a received object (`visitor.visit(this)`), to the platform (`String(this)`), or to
 * the caller: none of these keeps state for the class.
 */
function isShown(words: readonly Word[], at: number): boolean {
  const open = callAround(words, at);
  if (open === undefined) return false;
  const { type, value } = rootOf(words, open - 1) as Word;
  return type === 'IdentifierName' && (platform.has(value) || isBound(words, value));
}

const platform: ReadonlySet<string> = new Set(
  'Array Boolean JSON Number Object Promise Reflect String console'.split(' '),
);

/** The parenthesis of the call among whose arguments a word is, itself or in a list or an object. */
function callAround(words: readonly Word[], at: number): number | undefined {
  let depth = 0;
  for (let place = at - 1; place > 0; place--) {
    const { type, value } = words[place] as Word;
    if (closes(type, value)) depth++;
    else if (opens(type, value) && depth > 0) depth--;
    else if (value === '(') return place;
  }
  return undefined;
}

/** Whether it is marked as one of its class, or asked for that, as for private methods: `check(this, mark)`, `marks.add(this)`. */
function isMark(words: readonly Word[], at: number): boolean {
  const [before, after] = [valueAt(words, at - 1), valueAt(words, at + 1)];
  if (before === '(' && after === ')')
    return valueAt(words, at - 2) === 'add' && valueAt(words, at - 3) === '.';
  if (before === '(') return isFree(words, at + 2);
  return before === ',' && valueAt(words, at - 3) === '(' && isFree(words, at - 2);
}

/** Whether a whole argument is a name from around the class. */
function isFree(words: readonly Word[], at: number): boolean {
  const word = words[at];
  if (word?.type !== 'IdentifierName' || isBound(words, word.value)) return false;
  return [',', ')'].includes(valueAt(words, at + 1));
}

/** Whether it is called on itself: `super.turn.call(this)`, `Motor.call(this, port)`, `this.turn.bind(this)`. */
function isOwnCall(words: readonly Word[], at: number, parents: ReadonlySet<string>): boolean {
  if (valueAt(words, at - 1) !== '(' || valueAt(words, at - 3) !== '.') return false;
  if (!['call', 'apply', 'bind'].includes(valueAt(words, at - 2))) return false;
  const name = rootOf(words, at - 4)?.value ?? '';
  return ['this', 'super', ')'].includes(name) || /^_+super/.test(name) || parents.has(name);
}

/** The first name of a chain of members: the `dome` of `dome.shutter?.open`. */
function rootOf(words: readonly Word[], end: number): Word | undefined {
  let root = end;
  while (['.', '?.'].includes(valueAt(words, root - 1))) root -= 2;
  return words[root];
}
