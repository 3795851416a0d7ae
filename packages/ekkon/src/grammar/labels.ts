import { reservedWords } from '../notation/label.ts';
import { doublesNamed } from '../record/double-names.ts';
import type { Journal } from '../record/journal.ts';
import { type Target, targetAt } from '../record/target.ts';
import { inQuotes } from '../value/escape.ts';
import { didYouMean, nearNames } from '../value/near-names.ts';
import type { Reader } from './reader.ts';

/** A name in a text: a double's, and the path from it to a member. */
export interface Label {
  readonly double: string;
  readonly target: Target;
  readonly label: string;
}

/**
 * Reads a label. A name that is not a word of the language, or one that the language uses, is in quotes.
 *
 * @throws NotationError if no double of the ledger has the name
 */
export function parseLabel(
  reader: Reader,
  { journal, declares }: { readonly journal: Journal; readonly declares: boolean },
): Label {
  reader.skip();
  const start = reader.at;
  if (reader.text[start] === '#')
    reader.fail('a claim is about members, not about one call. Write the member: dome.open', start);
  const double = parseName(reader);
  const doubles = doublesNamed(journal);
  if (declares && !doubles.has(double)) doubles.set(double, 'real');
  if (!doubles.has(double)) {
    const [near] = nearNames(double, [...doubles.keys()]);
    const all = [...doubles.keys()].slice(0, 8).join(', ');
    reader.fail(
      `no double of ledger ${inQuotes(journal.name)} is called ${double}; ${near === undefined ? (all === '' ? 'it has none' : `it has ${all}`) : didYouMean(near, double)}`,
      start,
    );
  }
  const keys: PropertyKey[] = [];
  let number = '';
  for (;;) {
    if (reader.text[reader.at] === '.' && /[^.]/.test(reader.text[reader.at + 1] ?? '')) {
      reader.at++;
      keys.push(parseKey(reader));
    } else if (reader.text[reader.at] === '[') {
      reader.at++;
      keys.push(parseSymbol(reader, journal, double, keys));
    } else break;
    number = reader.match(/~\d+/y) ?? '';
  }
  const target = targetOf(journal, double, keys, number);
  return { double, target, label: target.label };
}

function parseName(reader: Reader): string {
  const text = reader.eatText();
  const word = text ?? reader.peekWord();
  if (word === undefined) return reader.fail('the name of a double is expected');
  if (text === undefined) {
    if (reservedWords.has(word))
      reader.fail(
        `${word} is a word of the language; a double of that name is in quotes: "${word}"`,
      );
    reader.eatWord();
  }
  return word + (reader.match(/~\d+/y) ?? '');
}

/** After a dot every word is a name. */
function parseKey(reader: Reader): string {
  if (reader.text[reader.at] === '"') return reader.eatText() as string;
  if (!reader.isAtWord()) reader.fail('the name of a member is expected');
  return reader.eatWord() as string;
}

/** A symbol by its description: the one that the record knows, if it knows one. */
function parseSymbol(
  reader: Reader,
  journal: Journal,
  double: string,
  before: readonly PropertyKey[],
): symbol {
  const text =
    reader.text[reader.at] === '"' ? reader.eatText() : reader.match(/[\p{ID_Continue}$.]+/uy);
  if (text === undefined) return reader.fail('the name of a symbol is expected');
  if (reader.text[reader.at] !== ']') reader.fail('] is expected after a symbol');
  reader.at++;
  for (const { keys, double: other } of journal.targets.all) {
    const key = keys[before.length];
    if (other === double && typeof key === 'symbol' && (key.description ?? 'symbol') === text)
      return key;
  }
  const shared = /^Symbol\.(\w+)$/.exec(text)?.[1];
  const known =
    shared === undefined ? undefined : (Symbol as never as Record<string, unknown>)[shared];
  return typeof known === 'symbol' ? known : Symbol(text);
}

function targetOf(
  journal: Journal,
  double: string,
  keys: readonly PropertyKey[],
  number: string,
): Target {
  const target = targetAt(journal, double, keys);
  if (number === '') return firstOf(journal, target);
  return (
    journal.targets.all.find(
      ({ label }) => label === `${firstOf(journal, target).label}${number}`,
    ) ?? target
  );
}

/** A member that was replaced twice is two targets: without a number the first is meant. */
function firstOf(journal: Journal, target: Target): Target {
  const { double, member } = target;
  return (
    journal.targets.all.find(
      (each) => each.double === double && each.member === member && !/~\d+$/.test(each.label),
    ) ?? target
  );
}
