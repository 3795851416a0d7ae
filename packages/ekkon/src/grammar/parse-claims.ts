import { never, once, times } from '../claim/count.ts';
import { during } from '../claim/during.ts';
import { exactItems } from '../claim/exact-items.ts';
import { inFlight } from '../claim/in-flight.ts';
import { nothingElse } from '../claim/nothing-else.ts';
import {
  either,
  inAnyOrder,
  inTurn,
  loop,
  optional,
  type StepLike,
  unbroken,
} from '../claim/order/steps.ts';
import { leadsTo, onlyAfter } from '../claim/precedence.ts';
import { anyRest } from '../match/anything.ts';
import { printDouble } from '../notation/label.ts';
import { call } from '../pattern/call.ts';
import { fulfilled, rejected, returned, settled, threw, unfinished } from '../pattern/ends.ts';
import type { Multiplicity } from '../pattern/multiplicity.ts';
import { makePattern } from '../pattern/properties.ts';
import type { Stream } from '../pattern/streams.ts';
import type { AnyCalls, EventPattern } from '../pattern/types.ts';
import type { Claim } from '../record/claim-type.ts';
import { doublesNamed } from '../record/double-names.ts';
import type { Journal } from '../record/journal.ts';
import type { Mark } from '../record/mark.ts';
import { newMember } from '../record/member.ts';
import { nearestName } from '../record/nearest-name.ts';
import { placeWritten } from '../record/slip.ts';
import type { Target } from '../record/target.ts';
import { tie } from '../record/tie.ts';
import { parseLabel } from './labels.ts';
import { Reader } from './reader.ts';
import { parseValue, type Scope } from './values.ts';

type Below = (...args: never[]) => unknown;

/**
 * Reads claims on a ledger from a text: those before any section, those of sections for a ledger of its name, and
 * those of sections for all.
 *
 * @param file what the text is called; claims lead to their lines in it
 * @param declares whether a double that the ledger does not have is one that was not called
 * @returns them in order; none if the text has claims, and none for this ledger
 * @throws NotationError with line, column and a caret, if the text is wrong or has no claim at all
 */
export function claimsIn(
  text: string,
  journal: Journal,
  file?: string,
  declares = false,
): readonly Claim[] {
  const reader = new Reader(text.replace(/^\uFEFF/, ''));
  const scope: Scope = { journal, declares, classes: new Map() };
  const claims: Claim[] = [];
  let isMeant = true;
  let isAny = false;
  while (reader.toStatement()) {
    const section = parseSection(reader);
    if (section !== undefined) {
      isMeant = section === '*' || section === journal.name;
      continue;
    }
    isAny = true;
    if (!isMeant) {
      skipStatement(reader);
      continue;
    }
    const { at } = reader;
    const claim = parseClaim(reader, scope);
    if (file !== undefined) placeWritten(journal, claim, { file, ...reader.placeOf(at) });
    claims.push(claim);
    if (!reader.isAtEnd())
      reader.fail('the claim is at its end here; a new one begins on a line of its own');
  }
  if (!isAny) reader.fail('there is no claim here, so that this would prove nothing', 0);
  return claims;
}

/** The names of the ledgers that a text has sections for. */
export function sectionsIn(text: string): readonly string[] {
  const reader = new Reader(text.replace(/^\uFEFF/, ''));
  const names: string[] = [];
  while (reader.toStatement()) {
    const section = parseSection(reader);
    if (section === undefined) skipStatement(reader);
    else names.push(section);
  }
  return names;
}

/** `ledger "a dry night"`, on a line of its own. */
function parseSection(reader: Reader): string | undefined {
  if (reader.eatWord('ledger') === undefined) return undefined;
  reader.next();
  const name = reader.eatText();
  if (name === undefined) {
    return reader.fail(
      'the name of a ledger is expected: ledger "a dry night", or ledger "*" for all',
    );
  }
  if (!reader.isAtLineEnd()) reader.fail('a section has a line of its own');
  return name;
}

/** Claims for another ledger: its doubles are not known here. */
function skipStatement(reader: Reader): void {
  while (!reader.isAtEnd()) {
    if (reader.eat('(', ')', '[', ']', '{', '}') !== undefined) continue;
    if (reader.text[reader.at] === '"') reader.eatText();
    else reader.at++;
  }
}

const scopes = ['after', 'until', 'before', 'between'];
const claimWords = ['once', 'never', 'times', 'in', 'items', 'nothing', ...scopes];
const eventWords = [
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

/** Scopes that claims may be nested in. */
const levels = 100;

function parseClaim(reader: Reader, scope: Scope, level = 0): Claim {
  if (level > levels) reader.fail(`claims are nested ${levels} scopes deep at most`);
  const start = reader.next();
  const word = reader.peekWord();
  if (word !== undefined && scopes.includes(word)) return parseScope(reader, scope, level);
  switch (word) {
    case 'once':
    case 'never':
      reader.eatWord();
      return made(reader, start, () => (word === 'once' ? once : never)(parseEvent(reader, scope)));
    case 'times': {
      reader.eatWord();
      const range = parseRange(reader);
      const event = parseEvent(reader, scope);
      return made(reader, start, () => times(range, event));
    }
    case 'in':
      return parseIn(reader, scope, start);
    case 'items':
      return parseItems(reader, scope, start);
    case 'nothing':
      return parseNothingElse(reader, scope, start);
    default:
      return parsePrecedence(reader, scope, start, word);
  }
}

/** What the functions that make claims refuse is wrong with the text. */
function made<T>(reader: Reader, start: number, make: () => T): T {
  try {
    return make();
  } catch (error) {
    if (error instanceof TypeError) reader.fail(error.message, start);
    throw error;
  }
}

function parseScope(reader: Reader, scope: Scope, level: number): Claim {
  const start = reader.at;
  const word = reader.eatWord();
  const first = parseMoment(reader, scope);
  const inner = () => {
    reader.expect(':', 'after a stretch, before its claim');
    return parseClaim(reader, scope, level + 1);
  };
  const build = (make: (claim: Claim) => Claim) => {
    const claim = inner();
    return made(reader, start, () => make(claim));
  };
  switch (word) {
    case 'until':
      return build((claim) => during({ until: first }, claim));
    case 'before':
      return build((claim) => during({ until: first, endedOnly: true }, claim));
    case 'between': {
      reader.expectWord('and');
      const until = parseMoment(reader, scope);
      return build((claim) => during({ from: first, until, endedOnly: true }, claim));
    }
    default: {
      if (reader.eatWord('until') === undefined)
        return build((claim) => during({ from: first }, claim));
      const until = parseMoment(reader, scope);
      return build((claim) => during({ from: first, until }, claim));
    }
  }
}

function parseMoment(reader: Reader, scope: Scope): EventPattern | Mark {
  const start = reader.next();
  if (reader.eatWord('mark') === undefined) return parseEvent(reader, scope);
  const label = reader.eatText() ?? reader.fail('the label of a mark is expected: mark "dusk"');
  const { marks, name } = scope.journal;
  const found = marks.filter((mark) => mark.label === label);
  const [mark, another] = found;
  if (mark === undefined) {
    const near = nearestName(
      label,
      marks.flatMap((each) => each.label ?? []),
    );
    reader.fail(
      `ledger "${name}" has no mark "${label}"${near === undefined ? '' : `; did you mean "${near}"?`}`,
      start,
    );
  }
  if (another !== undefined)
    reader.fail(
      `ledger "${name}" has ${found.length} marks "${label}", and it cannot be told which is meant`,
      start,
    );
  return mark;
}

function parseIn(reader: Reader, scope: Scope, start: number): Claim {
  reader.eatWord();
  const word = reader.expectWord('turn', 'flight');
  if (word === 'turn') {
    const steps = parseSteps(reader, scope);
    return made(reader, start, () => inTurn(...steps));
  }
  const range = parseRange(reader);
  const event = parseEvent(reader, scope);
  return made(reader, start, () => inFlight(range, event as AnyCalls));
}

function parseItems(reader: Reader, scope: Scope, start: number): Claim {
  reader.eatWord();
  reader.expectWord('of');
  const stream = parseStream(reader, scope);
  reader.expectWord('are');
  reader.skip();
  if (reader.text[reader.at] !== '[') reader.fail('a list of items is expected: [0, about(0.4)]');
  const items = parseValue(reader, scope) as readonly unknown[];
  return made(reader, start, () => exactItems(stream, items));
}

function parseNothingElse(reader: Reader, scope: Scope, start: number): Claim {
  reader.eatWord();
  reader.expectWord('else');
  const { journal } = scope;
  if (reader.eatWord('on') === undefined) {
    const ledger = {};
    tie(ledger, { is: 'ledger', journal });
    return made(reader, start, () => nothingElse(ledger));
  }
  const doubles: object[] = [];
  do {
    const { double, target } = parseLabel(reader, scope);
    const kind = doublesNamed(journal).get(double);
    const of = {};
    if (kind === 'stream')
      tie(of, { is: 'stream', journal, name: double, member: newMember(journal, target) });
    else if (target.keys.length > 0 || kind === 'callable') tie(of, newMember(journal, target));
    else
      tie(of, {
        is: 'double',
        journal,
        name: double,
        object: of,
        whenUnplanned: 'allow',
        shape: undefined,
        names: undefined,
      });
    doubles.push(of);
  } while (reader.eat(',') !== undefined);
  return made(reader, start, () => nothingElse(...(doubles as [object])));
}

/** `a only after b`, `a leads to b`. */
function parsePrecedence(
  reader: Reader,
  scope: Scope,
  start: number,
  word: string | undefined,
): Claim {
  if (word === 'conforms')
    reader.fail(
      'conforms cannot stand in a text: it speaks of a real object. Write this claim in a test',
    );
  if (word !== undefined && !eventWords.includes(word) && !doublesNamed(scope.journal).has(word)) {
    const near = nearestName(word, claimWords);
    if (near !== undefined) reader.fail(`there is no claim ${word}; did you mean ${near}?`);
  }
  const first = parseEvent(reader, scope);
  if (reader.isAtEnd())
    reader.fail(
      `this is a pattern, and claims nothing. Write once ${reader.text.slice(start, reader.at).trim()}`,
      start,
    );
  const word2 = reader.expectWord('only', 'leads');
  reader.expectWord(word2 === 'only' ? 'after' : 'to');
  const second = parseEvent(reader, scope);
  return made(reader, start, () =>
    word2 === 'only' ? onlyAfter(first, second) : leadsTo(first, second),
  );
}

function parseRange(reader: Reader): Multiplicity {
  reader.skip();
  const start = reader.at;
  const found = reader.match(/\d+(?:\.\.(?:\d+|\*))?(?![\w*])/y);
  if (found === undefined) return reader.fail('a count is expected: 2, 2..4 or 1..*');
  if (!found.includes('..')) return Number(found);
  const [low, high] = found.split('..');
  if (high !== '*' && Number(low) > Number(high))
    reader.fail(`the lower bound is above the upper one: write ${high}..${low}`, start);
  return found as Multiplicity;
}

function parseSteps(reader: Reader, scope: Scope, level = 0): readonly StepLike[] {
  const steps = [parseStep(reader, scope, level)];
  while (reader.eat('›', '>') !== undefined) steps.push(parseStep(reader, scope, level));
  return steps;
}

function parseStep(reader: Reader, scope: Scope, level: number): StepLike {
  if (level > levels) reader.fail(`steps are nested ${levels} levels deep at most`);
  reader.skip();
  const start = reader.at;
  if (!/\d/.test(reader.text[start] ?? '')) return parseOneStep(reader, scope, level);
  const range = parseRange(reader);
  const step = parseOneStep(reader, scope, level);
  return made(reader, start, () => loop(range, step));
}

function parseOneStep(reader: Reader, scope: Scope, level: number): StepLike {
  const start = reader.next();
  if (reader.eat('(') !== undefined) {
    const steps = parseSteps(reader, scope, level + 1);
    reader.expect(')', 'after these steps');
    return made(reader, start, () => inTurn(...steps));
  }
  switch (reader.peekWord()) {
    case 'in':
      reader.eatWord();
      reader.expectWord('any');
      reader.expectWord('order');
      return parseGroup(reader, scope, level, '&', inAnyOrder);
    case 'either':
      reader.eatWord();
      return parseGroup(reader, scope, level, '|', either);
    case 'unbroken':
      reader.eatWord();
      return parseGroup(reader, scope, level, '›', unbroken);
    case 'optional': {
      reader.eatWord();
      const step = parseOneStep(reader, scope, level + 1);
      return made(reader, start, () => optional(step));
    }
    default:
      return parseEvent(reader, scope);
  }
}

function parseGroup(
  reader: Reader,
  scope: Scope,
  level: number,
  between: string,
  make: (...steps: StepLike[]) => StepLike,
): StepLike {
  const start = reader.at;
  reader.expect('(', 'before the steps');
  const signs = between === '›' ? ['›', '>'] : [between];
  const steps: StepLike[] = [];
  do steps.push(parseStep(reader, scope, level + 1));
  while (reader.eat(...signs) !== undefined);
  reader.expect(')', `after the steps, which have ${between} between them`);
  return made(reader, start, () => make(...steps));
}

const ends = { returned, threw, fulfilled, rejected } as const;

function parseEvent(reader: Reader, scope: Scope): EventPattern {
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
    reader.fail(`${printDouble(label.double)} is no stream`, start);
  return label;
}

function parseStream(reader: Reader, scope: Scope): Stream<unknown> {
  const { target, double } = labelOfStream(reader, scope);
  const { journal } = scope;
  const stream = { items: [] };
  tie(stream, { is: 'stream', journal, name: double, member: newMember(journal, target) });
  return stream;
}

/** A label, and the arguments if it is followed by them. */
function parseCalls(reader: Reader, scope: Scope): AnyCalls {
  const start = reader.next();
  const { target } = parseLabel(reader, scope);
  const member = handle(scope.journal, target);
  if (reader.text[reader.at] !== '(') return made(reader, start, () => call(member));
  const args = parseArguments(reader, scope, target);
  return made(reader, start, () => call(member, args as never));
}

/** What `call` is given: a function that is tied to the member. */
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
    reader.fail('anyRest stands for all further arguments, so that it can only be the last', start);
  return args;
}
