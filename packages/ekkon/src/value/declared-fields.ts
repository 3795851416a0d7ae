import {
  bodyOf,
  closes,
  isStart,
  opens,
  sourceOf,
  valueAt,
  type Word,
  wordsOf,
} from './class-source.ts';
import { chainOf } from './prototype-chain.ts';

const known = new WeakMap<object, ReadonlySet<string>>();

/**
 * Whether a class, or one that it extends, declares a field of its instances that begins as something else than
 * a function: as far as its source shows it.
 */
export function declaresData(shape: object, field: string): boolean {
  return chainOf(shape).some((each) => typeof each === 'function' && fieldsOf(each).has(field));
}

function fieldsOf(shape: object): ReadonlySet<string> {
  const before = known.get(shape);
  if (before !== undefined) return before;
  const source = sourceOf(shape);
  const fields = source.startsWith('class') ? dataFields(wordsOf(source)) : new Set<string>();
  known.set(shape, fields);
  return fields;
}

/** Words after which a name belongs to the expression before it. */
const leading = new Set([
  ...['static', 'get', 'set', 'async', 'new', 'typeof', 'await', 'void', 'delete', 'in'],
  ...['instanceof', 'extends', '.', '?.', '#'],
]);

/** The fields that a class declares at the level of its body, but for those that begin as functions. */
function dataFields(words: readonly Word[]): ReadonlySet<string> {
  const fields = new Set<string>();
  let depth = 0;
  const body = bodyOf(words);
  for (let at = body; at < words.length; at++) {
    const { type, value } = words[at] as Word;
    if (opens(type, value)) depth++;
    if (closes(type, value) && --depth === 0) break;
    if (depth !== 1 || type !== 'IdentifierName') continue;
    const [before, after] = [valueAt(words, at - 1), valueAt(words, at + 1)];
    if (!isStart(before) || leading.has(before)) continue;
    const isField = after === '=' ? !isFunctionAt(words, at + 2) : [';', '}'].includes(after);
    if (isField) fields.add(value);
  }
  return fields;
}

/** Whether a function is written at a place: an arrow with or without parentheses, or one with its word. */
function isFunctionAt(words: readonly Word[], from: number): boolean {
  const at = valueAt(words, from) === 'async' ? from + 1 : from;
  if (valueAt(words, at) === 'function' || valueAt(words, at + 1) === '=>') return true;
  if (valueAt(words, at) !== '(') return false;
  let depth = 0;
  for (let place = at; place < words.length; place++) {
    const { type, value } = words[place] as Word;
    if (opens(type, value)) depth++;
    if (closes(type, value) && --depth === 0) return valueAt(words, place + 1) === '=>';
  }
  return false;
}
