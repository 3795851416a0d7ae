import { copyOf } from './copy.ts';
import type { Encoding } from './encoding.ts';
import { isGap } from './gap.ts';
import type { Json } from './json.ts';
import { type Kind, kindOf } from './kind.ts';
import { kinds } from './kinds/table.ts';
import { printsAs } from './prints-as.ts';
import { isSnapshot } from './snapshot.ts';
import { tiedTo } from './tie.ts';

/** The printed form of a value that cannot be written: functions, and objects that hide their state. */
export type ShowValue = (value: unknown) => string;

/** Turns one recorded value into JSON. */
export function encode(value: unknown, show: ShowValue): Json {
  const seen = new Map<object, number>();
  const encoding: Encoding = { encode: encodeAny, copyOf, shown };
  function shown(part: unknown): Json {
    return { $: 'shown', as: show(part) };
  }
  function encodeAny(part: unknown): Json {
    const isObject = typeof part === 'object' && part !== null;
    if (!isObject && typeof part !== 'function') return encodePrimitive(part);
    const double = doubleIn(part);
    if (double !== undefined) return double;
    const kind = kindOf(part);
    if (!hasParts(part, kind)) return kinds[kind].encode(encoding, part);
    const known = seen.get(part);
    if (known !== undefined) return { $: 'same', as: known };
    seen.set(part, seen.size);
    return kinds[kind].encode(encoding, part);
  }
  return encodeAny(value);
}

/** Whether a value is counted among those that may stand in a value twice. */
function hasParts(value: object, kind: Kind): boolean {
  if (kind === 'own') return !isGap(value) && isSnapshot(value);
  return kind !== 'function' && kind !== 'hidden' && kind !== 'thing';
}

function encodePrimitive(value: unknown): Json {
  switch (typeof value) {
    case 'string':
    case 'boolean':
      return value;
    case 'number':
      return Number.isFinite(value) && !Object.is(value, -0)
        ? value
        : { $: 'number', of: Object.is(value, -0) ? '-0' : String(value) };
    case 'bigint':
      return { $: 'bigint', of: String(value) };
    case 'undefined':
      return { $: 'undefined' };
    case 'symbol': {
      const shared = Symbol.keyFor(value);
      return shared === undefined
        ? { $: 'symbol', of: value.description ?? '' }
        : { $: 'symbol', for: shared };
    }
    default:
      return null;
  }
}

/** A double, or a member of one, by its printed form, which is unique in its ledger. */
function doubleIn(value: object): Json | undefined {
  if (tiedTo(value) === undefined) return undefined;
  const as = (value as { readonly [printsAs]?: unknown })[printsAs];
  return typeof as === 'string' ? { $: 'double', as } : undefined;
}
