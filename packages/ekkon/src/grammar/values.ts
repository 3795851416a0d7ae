import { missing, nullish } from '../match/absence.ts';
import { anyRest, anything } from '../match/anything.ts';
import { allItems, includes, sized, unordered } from '../match/collections.ts';
import { jsonText } from '../match/json-text.ts';
import { allOf, anyOf, not } from '../match/logic.ts';
import { about, between } from '../match/numbers.ts';
import { partial } from '../match/partial.ts';
import { endsWith, startsWith, textLike } from '../match/texts.ts';
import { instanceOf, typeOf } from '../match/type-of.ts';
import { doublesShown } from '../record/double-names.ts';
import type { Journal } from '../record/journal.ts';
import { intrinsics } from '../value/intrinsics.ts';
import { namedClass } from '../value/named-class.ts';
import { didYouMean, nearNames } from '../value/near-names.ts';
import { classCalled } from '../value/platform/table.ts';
import { parseLabel } from './labels.ts';
import type { Reader } from './reader.ts';

/** The ledger for which values in a text are read. */
export interface Scope {
  readonly journal: Journal;
  /** Whether a double that the ledger does not have is one that was not called. */
  readonly declares: boolean;
  /** The classes that the text names. */
  readonly classes: Map<string, new () => object>;
}

type Make = (...parameters: never[]) => unknown;

/** The matchers by their names. */
const matchers: Readonly<Record<string, Make>> = {
  typeOf,
  about,
  between,
  textLike,
  startsWith,
  endsWith,
  includes,
  partial,
  jsonText,
  allItems,
  sized,
  unordered,
  not,
  allOf,
  anyOf,
};

/** Matchers that a test can write, and a text cannot. */
const unwritable: Readonly<Record<string, string>> = {
  suchThat: 'a function decides it',
  identical: 'it means one particular object',
  ofSchema: 'a schema decides it',
  defineMatcher: 'a function decides it',
  Symbol: 'a symbol that is not shared is only the same as itself; write Symbol.for("name")',
};

const constants: Readonly<Record<string, unknown>> = {
  true: true,
  false: false,
  null: null,
  undefined: undefined,
  NaN: Number.NaN,
  Infinity: Number.POSITIVE_INFINITY,
  anything,
  nullish,
  missing,
  anyRest,
};

/** Levels that values may be nested. */
const levels = 400;

/** Reads one value. */
export function parseValue(reader: Reader, scope: Scope, level = 0): unknown {
  if (level > levels) reader.fail(`values are nested ${levels} levels deep at most`);
  reader.skip();
  const start = reader.at;
  const sign = reader.text[start] ?? '';
  if (sign === '"') return reader.eatText();
  if (/[-\d]/.test(sign)) return parseNumber(reader);
  if (sign === '/') return parseRegExp(reader);
  if (sign === '[') return parseList(reader, scope, level);
  if (sign === '{') return parseObject(reader, scope, {}, level);
  if (sign === '‹') {
    reader.fail(
      'a value in ‹ › cannot be read back: it is a function, hidden state, a cycle, or could not be recorded. Write an expected value, or anything',
    );
  }
  if (/['`‘’“”„]/.test(sign)) reader.fail('a text stands in double quotes, as "red"');
  const word = reader.peekWord();
  if (word === undefined)
    return reader.fail(
      sign === '' || sign === '\n' ? 'a value is expected' : `${sign} begins no value`,
    );
  if (word === 'new') return parseNew(reader, scope, level);
  reader.eatWord();
  if (Object.hasOwn(constants, word) && reader.text[reader.at] !== '(') return constants[word];
  if (word === 'Symbol' && reader.text.startsWith('.for(', reader.at)) {
    reader.at += '.for'.length;
    return Symbol.for(String(one(parseParameters(reader, scope, level), reader, 'Symbol.for')));
  }
  if (Object.hasOwn(unwritable, word))
    reader.fail(
      `${word} cannot stand in a text: ${unwritable[word]}. Write this claim in a test`,
      start,
    );
  if (reader.text[reader.at] === '(') return parseMatcher(reader, scope, word, start, level);
  reader.skip();
  if (reader.text[reader.at] === '{') return parseInstance(reader, scope, word, start, level);
  const [near] = nearNames(word, [...Object.keys(constants), ...Object.keys(matchers)]);
  return reader.fail(
    `there is no value ${word}${near === undefined ? '; a text stands in double quotes' : `; ${didYouMean(near, word)}`}`,
    start,
  );
}

function parseNumber(reader: Reader): unknown {
  const start = reader.at;
  if (reader.match(/-Infinity\b/y) !== undefined) return Number.NEGATIVE_INFINITY;
  const found = reader.match(/-?\d+(?:\.\d+)?(?:[eE][+-]?\d+)?n?(?![\w.])/y);
  if (found === undefined) return reader.fail('this is not a number', start);
  if (!found.endsWith('n')) return Number(found);
  if (!/^-?\d+n$/.test(found)) return reader.fail('this is not a number', start);
  return BigInt(found.slice(0, -1));
}

function parseRegExp(reader: Reader): RegExp {
  const start = reader.at;
  const found = reader.match(/\/((?:[^/\\[\n]|\\.|\[(?:[^\]\\\n]|\\.)*\])+)\/([a-z]*)/y);
  const parts = /^\/([\s\S]+)\/([a-z]*)$/.exec(found ?? '');
  try {
    if (parts !== null) return new RegExp(parts[1] ?? '', parts[2]);
  } catch {
    // The platform's own words for it would name a place in another text.
  }
  return reader.fail('this is not a regular expression', start);
}

function parseList(reader: Reader, scope: Scope, level: number): unknown {
  const start = reader.at;
  reader.eat('[');
  const word = reader.peekWord();
  const kinds = ['stand-in', 'callable', 'constructible', 'stream', 'member'];
  const kind = kinds.find((each) => reader.text.startsWith(`${each} `, reader.at));
  if (kind !== undefined && word !== undefined) return parseDouble(reader, scope, kind, start);
  const items: unknown[] = [];
  if (reader.eat(']') !== undefined) return items;
  do items.push(parseValue(reader, scope, level + 1));
  while (reader.eat(',') !== undefined);
  reader.expect(']', 'at the end of the list');
  return items;
}

/** `[stand-in dome]`: the double itself. */
function parseDouble(reader: Reader, scope: Scope, kind: string, start: number): object {
  reader.at += kind.length;
  const { label } = parseLabel(reader, scope);
  reader.expect(']', `after ${label}`);
  const shown = doublesShown(scope.journal);
  const key = `[${kind} ${label}]`;
  const known = shown.get(key);
  if (known !== undefined) return known;
  // Nothing that was recorded is this double, and nothing will be.
  if (scope.journal.closed) return {};
  return reader.fail(`no ${kind} of the ledger is called ${label}`, start);
}

function parseObject<T extends object>(reader: Reader, scope: Scope, target: T, level: number): T {
  reader.eat('{');
  if (reader.eat('}') !== undefined) return target;
  do {
    reader.skip();
    const start = reader.at;
    const key = parseKey(reader, scope, level);
    if (Object.hasOwn(target, key)) reader.fail(`${String(key)} stands here twice`, start);
    reader.expect(':', 'after a property’s name');
    const value = parseValue(reader, scope, level + 1);
    Object.defineProperty(target, key, {
      value,
      writable: true,
      enumerable: true,
      configurable: true,
    });
  } while (reader.eat(',') !== undefined);
  reader.expect('}', 'at the end of the object');
  return target;
}

function parseKey(reader: Reader, scope: Scope, level: number): PropertyKey {
  const text = reader.eatText();
  if (text !== undefined) return text;
  if (reader.eat('[') !== undefined) {
    const key = parseValue(reader, scope, level + 1);
    reader.expect(']', 'after a key');
    return typeof key === 'symbol' ? key : String(key);
  }
  const word = reader.eatWord() ?? reader.match(/\d+/y);
  return word ?? reader.fail('a property’s name is expected');
}

function parseParameters(reader: Reader, scope: Scope, level: number): unknown[] {
  reader.expect('(', 'here');
  const parameters: unknown[] = [];
  if (reader.eat(')') !== undefined) return parameters;
  do parameters.push(parseValue(reader, scope, level + 1));
  while (reader.eat(',') !== undefined);
  reader.expect(')', 'at the end');
  return parameters;
}

function parseMatcher(
  reader: Reader,
  scope: Scope,
  word: string,
  start: number,
  level: number,
): unknown {
  if (word === 'instanceOf') {
    reader.expect('(', 'after instanceOf');
    const name = reader.eatWord() ?? reader.fail('the name of a class is expected');
    reader.expect(')', 'after the name of a class');
    return instanceOf(classCalledBy(scope, name));
  }
  const make = Object.hasOwn(matchers, word) ? matchers[word] : undefined;
  if (word === 'Object') return Object(one(parseParameters(reader, scope, level), reader, word));
  if (make === undefined) {
    const [near] = nearNames(word, [...Object.keys(matchers), 'instanceOf']);
    reader.fail(
      near === undefined
        ? `${word}(…) is not a matcher, and shows what reveal() or a matcher of your own told; it cannot be read back`
        : `there is no matcher ${word}; ${didYouMean(near, word)}`,
      start,
    );
  }
  const parameters = parseParameters(reader, scope, level);
  try {
    return make(...(parameters as never[]));
  } catch (error) {
    return reader.fail(error instanceof Error ? error.message : String(error), start);
  }
}

function one(parameters: readonly unknown[], reader: Reader, word: string): unknown {
  if (parameters.length !== 1) reader.fail(`${word}(…) takes one value`);
  return parameters[0];
}

/** `Frame { id: "frame-1" }`: an instance of a class of that name. */
function parseInstance(
  reader: Reader,
  scope: Scope,
  name: string,
  start: number,
  level: number,
): object {
  if (classCalled(name) !== undefined)
    reader.fail(
      `a platform object cannot be made from its recorded state. Write partial({ … }) with the expected properties`,
      start,
    );
  const made: object = Object.create(classCalledBy(scope, name).prototype);
  return parseObject(reader, scope, made, level);
}

/** A class by its name: the platform's if it has one of the name that holds values, else one known by it alone. */
function classCalledBy({ classes }: Scope, name: string): new () => object {
  const own: unknown = (globalThis as Readonly<Record<string, unknown>>)[name];
  if (typeof own === 'function' && platformClasses.has(name)) return own as new () => object;
  const known = classes.get(name) ?? namedClass(name);
  classes.set(name, known);
  return known;
}

const errors = [
  'Error',
  'AggregateError',
  'EvalError',
  'RangeError',
  'ReferenceError',
  'SyntaxError',
  'TypeError',
  'URIError',
];
const bytes = [
  ...['Int8Array', 'Uint8Array', 'Uint8ClampedArray', 'Int16Array', 'Uint16Array', 'Int32Array'],
  ...['Uint32Array', 'Float32Array', 'Float64Array', 'BigInt64Array', 'BigUint64Array'],
];
const platformClasses: ReadonlySet<string> = new Set([
  ...errors,
  ...bytes,
  ...['Object', 'Array', 'Map', 'Set', 'Date', 'RegExp', 'Promise', 'URL', 'URLSearchParams'],
  ...['ArrayBuffer', 'DataView'],
]);

/** `new Date("…")`, and other objects made of written values. */
function parseNew(reader: Reader, scope: Scope, level: number): unknown {
  const start = reader.at;
  reader.eatWord('new');
  const name = reader.eatWord() ?? reader.fail('the name of a class is expected');
  const parameters = parseParameters(reader, scope, level);
  const made = construct(name, parameters, scope);
  if (made === undefined) reader.fail(`new ${name}(…) cannot be made of these values here`, start);
  if (!reader.text.startsWith('.buffer', reader.at)) return made;
  reader.at += '.buffer'.length;
  return (made as { readonly buffer?: unknown }).buffer ?? reader.fail('this has no buffer', start);
}

function construct(name: string, parameters: readonly unknown[], scope: Scope): unknown {
  const [first, second] = parameters;
  try {
    if (name === 'Date') return new intrinsics.Date(first as string | number);
    if (name === 'Map') return new Map(first as [unknown, unknown][]);
    if (name === 'Set') return new Set(first as unknown[]);
    if (name === 'URL') return new intrinsics.URL(String(first));
    if (name === 'URLSearchParams') return new intrinsics.URLSearchParams(String(first));
    if (name === 'DataView') return new DataView(first as ArrayBuffer);
    if (bytes.includes(name))
      return Reflect.construct((globalThis as never as Record<string, never>)[name] as never, [
        first,
      ]);
    if (name === 'Buffer') {
      const bytes = Uint8Array.from(first as number[]);
      const { Buffer } = intrinsics;
      return Buffer && Object.setPrototypeOf(bytes, Buffer.prototype);
    }
    return errorCalled(name, first, second, scope);
  } catch {
    return undefined;
  }
}

/** An error of the platform's, or of a class that is called as one. */
function errorCalled(name: string, message: unknown, more: unknown, scope: Scope): unknown {
  const hasMessage = typeof message === 'string' || message === undefined;
  if (!hasMessage) return undefined;
  const isOwn = errors.includes(name);
  // A platform class that hides its content cannot be made from written values.
  if (classCalled(name) !== undefined) return undefined;
  if (!isOwn && !/Error$|Exception$/.test(name)) return undefined;
  const type = classCalledBy(scope, name);
  if (!isOwn && Object.getPrototypeOf(type.prototype) === Object.prototype)
    Object.setPrototypeOf(type.prototype, Error.prototype);
  const error: object = Object.create(type.prototype);
  const define = (key: PropertyKey, value: unknown) =>
    Object.defineProperty(error, key, { value, writable: true, configurable: true });
  if (message !== undefined) define('message', message);
  for (const key of Reflect.ownKeys((more ?? {}) as object))
    define(key, (more as Readonly<Record<PropertyKey, unknown>>)[key]);
  return error;
}
