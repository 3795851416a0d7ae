import type { Target } from '../record/target.ts';
import { inQuotes } from '../value/escape.ts';
import { isDotted, isIdentifier } from '../value/names.ts';

/** Words that a claim may begin with, or that stand before an event: a double of such a name is in quotes. */
export const reservedWords: ReadonlySet<string> = new Set([
  ...['once', 'never', 'times', 'in', 'items', 'nothing', 'after', 'until', 'before', 'between'],
  ...['mark', 'ledger', 'returned', 'threw', 'fulfilled', 'rejected', 'settled', 'unfinished'],
  ...['item', 'completed', 'failed', 'reads', 'writes', 'either', 'optional', 'unbroken', 'on'],
  ...['only', 'leads', 'and', 'with'],
]);

/** A member as claims write it: names that are none of the language's are in quotes. */
export function printTarget({ double, keys, label }: Target): string {
  const members = keys.map((key) => {
    if (typeof key === 'symbol') return `[${inWords(key.description ?? 'symbol')}]`;
    return `.${isIdentifier(String(key)) ? String(key) : inQuotes(String(key))}`;
  });
  // A member replaced twice is told apart by a number behind its label.
  const number = keys.length > 0 ? (/~\d+$/.exec(label)?.[0] ?? '') : '';
  return `${printDouble(double)}${members.join('')}${number}`;
}

/** A double's name as claims write it. */
export function printDouble(name: string): string {
  const [, word = name, number = ''] = /^(.*?)(~\d+)?$/s.exec(name) ?? [];
  const isPlain = isIdentifier(word) && !reservedWords.has(word);
  return `${isPlain ? word : inQuotes(word)}${number}`;
}

/** A symbol's description: words and dots stand as they are. */
function inWords(text: string): string {
  return isDotted(text) ? text : inQuotes(text);
}
