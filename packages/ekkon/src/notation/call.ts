import type { Entry } from '../record/entry.ts';
import { escapeControls } from '../value/escape.ts';
import { printLine } from './value.ts';

/** Arguments as code writes them between the brackets of a call, on one line. */
export function printArguments(args: readonly unknown[]): string {
  return args.map((value) => printLine(value, { items: 12 })).join(', ');
}

/** A recorded entry, as a pattern for it is written: `camera.expose({ seconds: 30 })`, `item rain with 0.4`. */
export function printCall({ kind, label, args }: Omit<Entry, 'liveArgs'>): string {
  if (kind === 'call' || kind === 'construct') return `${label}(${printArguments(args)})`;
  return `${wordOf[kind]} ${label}${args.length === 0 ? '' : ` with ${printArguments(args)}`}`;
}

/** The word for each kind of entry, in claims and in reports. */
export const wordOf = {
  read: 'reads',
  write: 'writes',
  item: 'item',
  end: 'completed',
  failure: 'failed',
} as const;

/** An entry in short, if the double's name stands beside it: `expose(30)`, `item 0.4`, `completed`. */
export function printWithin({ kind, double, member, args }: Omit<Entry, 'liveArgs'>): string {
  const name = member === '' ? escapeControls(double) : member;
  switch (kind) {
    case 'call':
    case 'construct':
      return `${name}(${printArguments(args)})`;
    case 'read':
    case 'write':
      return [wordOf[kind], name, printArguments(args)].join(' ').trimEnd();
    case 'item':
    case 'end':
    case 'failure':
      return [wordOf[kind], printArguments(args)].join(' ').trimEnd();
  }
}
