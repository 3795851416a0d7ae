import { printLine, printPath } from '#core/notation/value.ts';

/** A part of a value, and how it is reached. */
export interface ValuePart {
  readonly label: string;
  readonly value: unknown;
}

/** The parts of a value that can be unfolded; none if it is shown whole. */
export function valueParts(value: unknown): readonly ValuePart[] {
  if (typeof value !== 'object' || value === null) return [];
  if (value instanceof Map)
    return [...value].map(([key, held]) => ({ label: `${inShort(key)} ⇒`, value: held }));
  if (value instanceof Set)
    return [...value].map((held, at) => ({ label: String(at), value: held }));
  if (ArrayBuffer.isView(value) || value instanceof ArrayBuffer) return [];
  if (Array.isArray(value)) return value.map((held, at) => ({ label: `[${at}]`, value: held }));
  return Reflect.ownKeys(value).flatMap((key) => {
    const own = Object.getOwnPropertyDescriptor(value, key);
    return own !== undefined && 'value' in own
      ? [{ label: printPath([key]), value: own.value as unknown }]
      : [];
  });
}

/** A value on one line. */
export function inShort(value: unknown): string {
  return printLine(value, { items: 6, text: 80 });
}
