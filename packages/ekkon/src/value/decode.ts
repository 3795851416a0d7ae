import { type Decoding, decodeItems, decodeOwn, made } from './decoding.ts';
import { type GapReason, makeGap } from './gap.ts';
import { intrinsics } from './intrinsics.ts';
import { type Json, type Tagged, textIn } from './json.ts';
import { kinds } from './kinds/table.ts';
import { makeOwn, printsAs } from './prints-as.ts';

/**
 * Makes a reader of encoded values. Classes are told apart by name: values of the same class share a
 * prototype within one reader.
 *
 * @throws TypeError at a tag it does not know
 */
export function makeDecoder(doubles: Map<string, object> = new Map()): (json: Json) => unknown {
  const classes = new Map<string, object>();
  return (json) => {
    const decoding: Decoding = { classes, doubles, made: [], decode };
    function decode(part: Json): unknown {
      if (typeof part !== 'object' || part === null) return part;
      if (Array.isArray(part)) return decodeItems(decoding, made(decoding, []), part);
      const tagged = part as Tagged;
      return Object.hasOwn(tagged, '$')
        ? decodeTagged(decoding, tagged)
        : decodeOwn(decoding, made(decoding, {}), Object.entries(tagged));
    }
    return decode(json);
  };
}

type Read = (decoding: Decoding, json: Tagged) => unknown;

function decodeTagged(decoding: Decoding, json: Tagged): unknown {
  const read = readers.get(textIn(json, '$'));
  if (read === undefined)
    throw new TypeError(`a value of a kind unknown here: ${intrinsics.stringify(json['$'])}`);
  return read(decoding, json);
}

/** How primitives that JSON does not have are read, and marks in a value. */
const marks: Readonly<Record<string, Read>> = {
  undefined: () => undefined,
  number: (_, json) => Number(textIn(json, 'of')),
  bigint: (_, json) => BigInt(textIn(json, 'of')),
  symbol: (_, json) =>
    json['for'] === undefined ? Symbol(textIn(json, 'of')) : Symbol.for(textIn(json, 'for')),
  shown: (_, json) => makeOwn({ [printsAs]: textIn(json, 'as') }),
  double({ doubles }, json) {
    const as = textIn(json, 'as');
    const known = doubles.get(as) ?? makeOwn({ [printsAs]: as });
    doubles.set(as, known);
    return known;
  },
  gap: (_, json) =>
    makeGap(textIn(json, 'why') as GapReason, undefined, textIn(json, 'as').replace(/^‹|›$/g, '')),
  same: ({ made: before }, json) => before[Number(json['as'])],
};

/** How each is read, by its `$`. */
const readers: ReadonlyMap<string, Read> = new Map([
  ...Object.entries(marks),
  ...Object.values(kinds).flatMap(({ decode = {} }) => Object.entries(decode)),
]);
