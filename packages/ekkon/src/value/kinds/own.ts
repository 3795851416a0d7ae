import { claimedOriginal } from '../claimed-copy.ts';
import { className } from '../class-name.ts';
import type { Encoding } from '../encoding.ts';
import { isGap, missingIn } from '../gap.ts';
import type { Json } from '../json.ts';
import type { Piece } from '../piece.ts';
import type { Printing } from '../printing.ts';
import { isOfOtherCopy, printsAs } from '../prints-as.ts';
import { isRevealed } from '../revealed.ts';
import type { Showing } from '../showing.ts';
import { isSnapshot } from '../snapshot.ts';
import { encodeSnapshot, printSnapshot } from './platform.ts';
import type { ValueKind } from './value-kind.ts';

/** Ekkon's own values: matchers, and stand-ins in a copy for values that cannot be copied. Kept as they are. */
export const own: ValueKind = {
  copy(copying, value) {
    if (isOfOtherCopy(value)) copying.ofOther = value;
    return value;
  },
  show: showOwnValue,
  encode: encodeOwnValue,
  compare: (comparison, expected, received) => comparison.add('changed', expected, received),
  print: printOwnValue,
};

function showOwnValue(showing: Showing, value: object): unknown {
  if (isSnapshot(value)) return value.of;
  if (isRevealed(value)) return showing.originalOf(value) ?? claimedOriginal(value);
  if (isGap(value) && showing.ofCut === 'refuse')
    throw new TypeError(`part of it was not recorded: ${missingIn(value)}`);
  return value;
}

function encodeOwnValue(encoding: Encoding, value: object): Json {
  if (isGap(value)) return { $: 'gap', why: value.gap, as: value[printsAs] };
  return isSnapshot(value) ? encodeSnapshot(encoding, value) : encoding.shown(value);
}

function printOwnValue(printing: Printing, value: object): Piece {
  if (isRevealed(value)) {
    const { name } = value.revealed;
    const content = printing.piece(value.content);
    const fields = typeof content === 'object' && content.open === '{';
    if (fields) return { ...content, open: `${name} {` };
    return { open: `${name}(`, items: [{ piece: content }], close: ')' };
  }
  if (isSnapshot(value)) return printSnapshot(printing, value);
  const shown = (value as { readonly [printsAs]?: string })[printsAs];
  if (isOfOtherCopy(value)) return printOfOther(shown);
  return shown ?? `‹${className(value) ?? 'object'}›`;
}

/** How a value prints that another copy of Ekkon made, by how that printed it. */
export function printOfOther(shown: string | undefined): string {
  return `‹${shown}, of another copy of Ekkon›`;
}
