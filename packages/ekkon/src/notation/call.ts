import type { Entry } from '../record/entry.ts';
import { printValue } from './value.ts';

/** Arguments as code writes them between the brackets of a call, on one line. */
export function printArguments(args: readonly unknown[], rest = false): string {
  const items = args.map((value) =>
    printValue(value, { width: Number.POSITIVE_INFINITY, items: 12 }),
  );
  return [...items, ...(rest ? ['anyRest'] : [])].join(', ');
}

/** A recorded call as code would write it: `camera.expose({ seconds: 30 })`. */
export function printCall(entry: Entry): string {
  return `${entry.label}(${printArguments(entry.args)})`;
}
