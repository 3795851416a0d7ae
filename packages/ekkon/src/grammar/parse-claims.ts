import { never, once, times } from '../claim/count.ts';
import { during } from '../claim/during.ts';
import { exactItems } from '../claim/exact-items.ts';
import { inFlight } from '../claim/in-flight.ts';
import { nothingElse } from '../claim/nothing-else.ts';
import { inTurn } from '../claim/order/steps.ts';
import { leadsTo, onlyAfter } from '../claim/precedence.ts';
import type { AnyCalls, EventPattern } from '../pattern/types.ts';
import type { Claim } from '../record/claim-type.ts';
import { doublesNamed } from '../record/double-names.ts';
import type { Journal } from '../record/journal.ts';
import type { Mark } from '../record/mark.ts';
import { newMember } from '../record/member.ts';
import { placeWritten } from '../record/slip.ts';
import { tie } from '../record/tie.ts';
import { inQuotes } from '../value/escape.ts';
import { didYouMean, nearNames } from '../value/near-names.ts';
import { parseLabel } from './labels.ts';
import { eventWords, made, parseEvent, parseStream } from './parse-events.ts';
import { parseRange, parseSteps, refuseSpoken } from './parse-steps.ts';
import { Reader } from './reader.ts';
import { parseValue, type Scope } from './values.ts';

/**
 * Reads claims on a ledger from a text: those before any section, those of sections for a ledger of its name, and
 * those of sections for all.
 *
 * @param file the name of the text; claims lead to their lines in it
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
      reader.fail(
        reader.text[reader.at] === '('
          ? 'the arguments stand right behind the member, without a blank: dome.open(90)'
          : 'the claim is at its end here; a new one begins on a line of its own',
      );
  }
  if (!isAny) reader.fail('there is no claim here, so this would verify nothing', 0);
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

/** Scopes that claims may be nested in. */
const levels = 100;

function parseClaim(reader: Reader, scope: Scope, level = 0): Claim {
  if (level > levels) reader.fail(`claims are nested ${levels} scopes deep at most`);
  refuseSpoken(reader);
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
    const [near] = nearNames(
      label,
      marks.flatMap((each) => each.label ?? []),
    );
    reader.fail(
      `ledger ${inQuotes(name)} has no mark "${label}"${near === undefined ? '' : `; ${didYouMean(inQuotes(near), inQuotes(label))}`}`,
      start,
    );
  }
  if (another !== undefined)
    reader.fail(
      `ledger ${inQuotes(name)} has ${found.length} marks "${label}", so it is unclear which one is meant`,
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
      'conforms cannot stand in a text: it needs a real object. Write this claim in a test',
    );
  if (word !== undefined && !eventWords.includes(word) && !doublesNamed(scope.journal).has(word)) {
    const [near] = nearNames(word, claimWords);
    if (near !== undefined) reader.fail(`there is no claim ${word}; ${didYouMean(near, word)}`);
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
