import { printWithin } from '../notation/call.ts';
import { shortValue } from '../notation/value.ts';
import type { Entry } from '../record/entry.ts';
import { kindOf } from '../value/kind.ts';

/**
 * An entry in short beside the one of the same member before it: only the arguments that differ, and `…` for the
 * others.
 *
 * Example: after `expose({ seconds: 30, filter: "red" })`, `expose({ …, filter: "clear" })`.
 */
export function printChanged(entry: Entry, before: Entry | undefined): string {
  if (before === undefined || before.args.length !== entry.args.length || entry.args.length === 0)
    return printWithin(entry);
  const changed = entry.args.map((value, at) => changedIn(value, before.args[at], 0));
  if (changed.every((each) => each === same))
    return printWithin({ ...entry, args: [] }).replace(/\(\)$/, '(…)');
  const whole = printWithin({ ...entry, args: [] });
  const [open, close] = whole.endsWith('()') ? [whole.slice(0, -1), ')'] : [`${whole} `, ''];
  return `${open}${changed.join(', ')}${close}`;
}

const same = '…';
const levelsMost = 6;

function changedIn(value: unknown, before: unknown, level: number): string {
  if (Object.is(value, before)) return same;
  const [keys, keysBefore] = [keysOf(value), keysOf(before)];
  const isOpen = keys !== undefined && keysBefore !== undefined && level < levelsMost;
  if (!isOpen || Array.isArray(value) !== Array.isArray(before)) {
    const [now, then] = [shortValue(value, lettersMost), shortValue(before, lettersMost)];
    return now === then ? same : now;
  }
  const parts = keys.map((key) => {
    if (!keysBefore.includes(key)) return [key, shortValue(partOf(value, key))] as const;
    return [key, changedIn(partOf(value, key), partOf(before, key), level + 1)] as const;
  });
  const told = parts.filter(([, text]) => text !== same);
  const isLess = keysBefore.some((key) => !keys.includes(key));
  if (told.length === 0 && !isLess) return same;
  const rest = told.length < parts.length || isLess ? [same] : [];
  if (Array.isArray(value))
    return `[${[...rest, ...told.map(([key, text]) => `${key}: ${text}`)].join(', ')}]`;
  return `{ ${[...rest, ...told.map(([key, text]) => `${key}: ${text}`)].join(', ')} }`;
}

const lettersMost = 400;

/** The keys of plain data; `undefined` of anything else. */
function keysOf(value: unknown): readonly string[] | undefined {
  if (typeof value !== 'object' || value === null) return undefined;
  const kind = kindOf(value);
  return kind === 'plain' || kind === 'array' ? Object.keys(value) : undefined;
}

function partOf(value: unknown, key: string): unknown {
  return (value as Readonly<Record<string, unknown>>)[key];
}
