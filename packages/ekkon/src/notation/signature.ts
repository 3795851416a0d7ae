import { className } from '../value/class-name.ts';
import { intrinsics } from '../value/intrinsics.ts';
import { kindOf } from '../value/kind.ts';
import { isOwn } from '../value/prints-as.ts';

/**
 * A call as a method could be declared, ready to be pasted into an interface:
 * `rewind(a: number, b: { slow: boolean }): void`.
 */
export function printSignature(name: string, args: readonly unknown[]): string {
  const parameters = args.map(
    (value, at) => `${letters[at] ?? `argument${at}`}: ${typeText(value, 0)}`,
  );
  return `${name}(${parameters.join(', ')}): void;`;
}

const letters = ['a', 'b', 'c', 'd', 'e', 'f'];

/** Levels of an object that its type is spelled out for. */
const levelsSpelled = 3;

/** The platform's types that cannot be written without the types of what they hold. */
const typeArguments = new Map([
  ['Map', '<unknown, unknown>'],
  ['WeakMap', '<object, unknown>'],
  ['Set', '<unknown>'],
  ['WeakSet', '<object>'],
  ['Promise', '<unknown>'],
  ['WeakRef', '<object>'],
]);

function typeText(value: unknown, level: number): string {
  if (value === null) return 'null';
  if (typeof value === 'function') return '(...args: unknown[]) => unknown';
  if (typeof value !== 'object') return typeof value;
  if (isOwn(value) || level >= levelsSpelled) return 'object';
  const kind = kindOf(value);
  if (kind === 'array') return arrayText(value as readonly unknown[], level);
  if (kind !== 'plain') {
    const name = className(value) ?? 'object';
    return `${name}${typeArguments.get(name) ?? ''}`;
  }
  const fields = Object.keys(value).map((key) => {
    const descriptor = Object.getOwnPropertyDescriptor(value, key);
    const name = /^[A-Za-z_$][\w$]*$/.test(key) ? key : intrinsics.stringify(key);
    return `${name}: ${typeText(descriptor?.value, level + 1)}`;
  });
  return fields.length === 0 ? 'object' : `{ ${fields.join('; ')} }`;
}

function arrayText(items: readonly unknown[], level: number): string {
  const types = [...new Set(items.slice(0, 20).map((item) => typeText(item, level + 1)))];
  if (types.length === 0) return 'unknown[]';
  return types.length === 1 && /^\w+$/.test(types[0] ?? '')
    ? `${types[0]}[]`
    : `(${types.join(' | ')})[]`;
}
