import { keepFrames } from '../call-stack.ts';
import { className } from '../class-name.ts';
import { compareProperties } from '../compare-properties.ts';
import { addAll } from '../copy-properties.ts';
import { alike, remember } from '../copying.ts';
import { classNamed, decodeOwn, made } from '../decoding.ts';
import { classOf, ownPairs } from '../encoding.ts';
import { pairsIn, textIn } from '../json.ts';
import type { Piece } from '../piece.ts';
import { type Printing, printProperties, quoted } from '../printing.ts';
import { showOwn } from '../showing.ts';
import type { ValueKind } from './value-kind.ts';

/** An error: its message and whatever else it holds, but for where it was thrown. */
export const error: ValueKind = {
  copy: (copying, value) =>
    addAll(copying, value, remember(copying, value, alike(value, emptyError(value)))),
  show: (showing, value) => showOwn(showing, value, alike(value, emptyError(value))),
  encode: (encoding, value) => ({
    $: 'error',
    class: classOf(value),
    own: ownPairs(encoding, value),
  }),
  decode: {
    error(decoding, json) {
      const name = textIn(json, 'class');
      const prototype = Object.hasOwn(standard, name)
        ? (standard[name] as object)
        : classNamed(decoding, name, Error);
      return decodeOwn(decoding, made(decoding, Object.create(prototype)), pairsIn(json, 'own'));
    },
  },
  compare: (comparison, expected, received) =>
    compareProperties(comparison, expected, received, 'all'),
  print: printError,
};

const standard: Readonly<Record<string, object>> = {
  Error: Error.prototype,
  AggregateError: AggregateError.prototype,
  EvalError: EvalError.prototype,
  RangeError: RangeError.prototype,
  ReferenceError: ReferenceError.prototype,
  SyntaxError: SyntaxError.prototype,
  TypeError: TypeError.prototype,
  URIError: URIError.prototype,
};

/** An error with nothing said yet; its stack is the original's, read when somebody asks for it. */
function emptyError(original: object): Error {
  const before = keepFrames(0);
  try {
    const copy = new Error();
    Object.defineProperty(copy, 'stack', {
      get: () => Reflect.get(original, 'stack'),
      configurable: true,
    });
    return copy;
  } finally {
    keepFrames(before);
  }
}

function printError(printing: Printing, value: object): Piece {
  const name = className(value) ?? 'Error';
  const message = Object.getOwnPropertyDescriptor(value, 'message')?.value;
  const said = typeof message === 'string' ? quoted(message, printing.text) : '';
  const more = Reflect.ownKeys(value).filter((key) => key !== 'message' && key !== 'stack');
  if (more.length === 0) return `new ${name}(${said})`;
  const rest = printProperties(printing, value, undefined, more);
  return { open: `new ${name}(`, items: [{ piece: said }, { piece: rest }], close: ')' };
}
