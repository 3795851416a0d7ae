import { isLetters } from './names.ts';

/** The shortest word that is taken for a slip of another one, and the shortest with a letter mistaken. */
const [shortest, shortestMistaken] = [5, 8];

/**
 * Whether two texts differ by one slip of typing, in one word and inside of it: two neighbouring letters exchanged, a letter
 * left out or added, or in a long word one mistaken. Words that differ in a digit, or where they begin or end, are different
 * words: `frame-1` and `frame-2`, `send` and `sent`.
 */
export function isOneSlip(one: string, other: string): boolean {
  if (Math.abs(one.length - other.length) > 1 || one === other) return false;
  let from = 0;
  while (one[from] === other[from]) from++;
  let left = one.length;
  let right = other.length;
  while (left > from && right > from && one[left - 1] === other[right - 1]) {
    left--;
    right--;
  }
  const [missed, typed] = [one.slice(from, left), other.slice(from, right)];
  if (!isLetters(missed + typed)) return false;
  const word = wordAround(one, from, left);
  if (word === undefined || word.length < shortest) return false;
  if (missed.length === 2 && typed === `${missed[1]}${missed[0]}`) return true;
  if (missed.length + typed.length === 1) return true;
  return missed.length === 1 && typed.length === 1 && word.length >= shortestMistaken;
}

/** The word that a piece of a text stands inside of; `undefined` if the word begins or ends with it. */
function wordAround(text: string, from: number, to: number): string | undefined {
  let [start, end] = [from, to];
  while (isLetters(text[start - 1] ?? '')) start--;
  while (isLetters(text[end] ?? '')) end++;
  return start === from || end === to ? undefined : text.slice(start, end);
}
