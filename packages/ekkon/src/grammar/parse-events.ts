import { anyRest } from '../match/anything.ts';
import { printDouble } from '../notation/label.ts';
import { call } from '../pattern/call.ts';
import { fulfilled, rejected, returned, settled, threw, unfinished } from '../pattern/ends.ts';
import { makePattern } from '../pattern/properties.ts';
import { makeRequestPattern } from '../pattern/requests/request-pattern.ts';
import type { Stream } from '../pattern/streams.ts';
import type { AnyCalls, EventPattern } from '../pattern/types.ts';
import { doublesNamed } from '../record/double-names.ts';
import type { Journal } from '../record/journal.ts';
import { newMember } from '../record/member.ts';
import type { Target } from '../record/target.ts';
import { tie } from '../record/tie.ts';
import type { Below } from '../value/below.ts';
import { parseLabel } from './labels.ts';
import type { Reader } from './reader.ts';
import { parseValue, type Scope } from './values.ts';

/** The words that an event may begin with. */
export const eventWords = [
  'returned',
  'threw',
  'fulfilled',
  'rejected',
  'settled',
  'unfinished',
  'item',
  'completed',
  'failed',
  'reads',
  'writes',
];

/** Turns a refusal by a function that makes claims into an error about the text. */
export function made<T>(reader: Reader, start: number, make: () => T): T {
  try {
    return make();
  } catch (error) {
    if (error instanceof TypeError) reader.fail(error.message, start);
    throw error;
  }
}

const ends = { returned, threw, fulfilled, rejected } as const;

/** Reads an event: calls, their ends, stream events, reads and writes. */
export function parseEvent(reader: Reader, scope: Scope): EventPattern {
  reader.skip();
  const start = reader.at;
  const word = reader.peekWord() ?? '';
  if (!eventWords.includes(word)) return parseCalls(reader, scope);
  reader.eatWord();
  switch (word) {
    case 'returned':
    case 'threw':
    case 'fulfilled':
    case 'rejected': {
      const calls = parseCalls(reader, scope);
      const value = parseWith(reader, scope);
      const end = ends[word] as (p: AnyCalls, ...value: readonly unknown[]) => EventPattern;
      return made(reader, start, () => end(calls, ...value));
    }
    case 'settled':
    case 'unfinished': {
      const calls = parseCalls(reader, scope);
      return made(reader, start, () => (word === 'settled' ? settled : unfinished)(calls));
    }
    case 'item':
    case 'failed':
    case 'completed': {
      const { target } = labelOfStream(reader, scope);
      const of = { item: 'item', failed: 'failure', completed: 'end' } as const;
      const value = word === 'completed' ? [] : parseWith(reader, scope);
      return made(reader, start, () =>
        makePattern(of[word], newMember(scope.journal, target), value, below(word)),
      );
    }
    default: {
      const { target } = parseLabel(reader, scope);
      const value = word === 'writes' ? parseWith(reader, scope) : [];
      const of = word === 'writes' ? 'write' : 'read';
      return made(reader, start, () =>
        makePattern(of, newMember(scope.journal, target), value, below(word)),
      );
    }
  }
}

/** A function of a name: makers of patterns write by it. */
function below(name: string): Below {
  return Object.defineProperty(() => {}, 'name', { value: name });
}

function parseWith(reader: Reader, scope: Scope): readonly unknown[] {
  return reader.eatWord('with') === undefined ? [] : [parseValue(reader, scope)];
}

function labelOfStream(reader: Reader, scope: Scope) {
  const { journal } = scope;
  const start = reader.next();
  const label = parseLabel(reader, scope);
  if (doublesNamed(journal).get(label.double) !== 'stream')
    reader.fail(`${printDouble(label.double)} is not a stream`, start);
  return label;
}

export function parseStream(reader: Reader, scope: Scope): Stream<unknown> {
  const { target, double } = labelOfStream(reader, scope);
  const { journal } = scope;
  const stream = { items: [] };
  tie(stream, { is: 'stream', journal, name: double, member: newMember(journal, target) });
  return stream;
}

/** A label, and the arguments if it is followed by them; or a request. */
function parseCalls(reader: Reader, scope: Scope): AnyCalls {
  const start = reader.next();
  if (reader.match(requestWord) !== undefined) return parseRequest(reader, scope, start);
  const { target, double } = parseLabel(reader, scope);
  if (target.keys.length === 0) refuseUncalled(reader, scope.journal, double, start);
  const member = handle(scope.journal, target);
  if (reader.text[reader.at] !== '(') return made(reader, start, () => call(member));
  const args = parseArguments(reader, scope, target);
  return made(reader, start, () => call(member, args as never));
}

/** The word before a label and its arguments: a double may be called `request` too. */
const requestWord =
  /request(?=[^\S\n]+(?:"(?:[^"\\\n]|\\.)*"|[\p{ID_Start}$_])(?:[\p{ID_Continue}$.~]|"(?:[^"\\\n]|\\.)*"|\[[^\]\n]*\])*\()/uy;

/** `request fetch("POST", "/frames/:id", { json: partial({ seconds: 30 }) })`. */
function parseRequest(reader: Reader, scope: Scope, start: number): AnyCalls {
  const { target } = parseLabel(reader, scope);
  const given = parseArguments(reader, scope, target);
  if (given.length < 2 || given.length > 3)
    reader.fail(
      'a request has a method and an address, and may have parts: request fetch("POST", "/frames/:id", { json: {} })',
      start,
    );
  const member = newMember(scope.journal, target);
  const pattern = made(reader, start, () => makeRequestPattern(member, given, below('request')));
  return pattern as unknown as AnyCalls;
}

/** A double that is not a function is never called itself: a claim on it alone would hold, or fail, whatever happens. */
function refuseUncalled(reader: Reader, journal: Journal, double: string, start: number): void {
  const kind = doublesNamed(journal).get(double);
  if (kind !== 'stand-in' && kind !== 'real') return;
  const labels = journal.targets.all.flatMap((each) => {
    const isMember = each.double === double && each.keys.length > 0;
    return isMember ? [each.label] : [];
  });
  if (journal.entries.some(({ target }) => target.double === double && target.keys.length === 0))
    return;
  const members = [...new Set(labels)].slice(0, 8);
  const those = members.length === 0 ? '' : `, as ${members.join(', ')}`;
  reader.fail(
    `${printDouble(double)} is not a function, so it is never called itself. Name its member${those}`,
    start,
  );
}

/** The argument of `call`: a function that is tied to the member. */
function handle(journal: Journal, target: Target): (...args: unknown[]) => unknown {
  const member = () => undefined;
  tie(member, newMember(journal, target));
  return member;
}

function parseArguments(reader: Reader, scope: Scope, { label }: Target): readonly unknown[] {
  const start = reader.at;
  reader.eat('(');
  if (reader.eat(')') !== undefined)
    reader.fail(`write ${label} for any arguments, and ${label}(no arguments) for none`, start);
  if (reader.eatWord('no') !== undefined) {
    reader.expectWord('arguments');
    reader.expect(')', 'after no arguments');
    return [];
  }
  const args: unknown[] = [];
  do args.push(parseValue(reader, scope));
  while (reader.eat(',') !== undefined);
  reader.expect(')', 'at the end of the arguments');
  const early = args.indexOf(anyRest);
  if (early >= 0 && early < args.length - 1)
    reader.fail('anyRest stands for all further arguments, so it must be the last', start);
  return args;
}
