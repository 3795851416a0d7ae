import type { Laned, LaneLayout } from './lane-layout.ts';

/** Sizes of the picture, in pixels at its usual size. */
export const laneSizes = {
  row: 22,
  head: 44,
  /** The room on the left for an entry's number and its tick. */
  numbers: 96,
  /** From one column of a lane to the next. */
  step: 6,
  /** A call's box, and the width of its span. */
  box: 10,
  /** The width of a letter. */
  letter: 7.3,
  /** Letters of a call that are shown in its lane. */
  letters: 26,
  narrowest: 96,
  widest: 300,
} as const;

/** Rows that are looked at to tell how wide lanes have to be. */
const rowsMeasured = 2_000;

/** The width of each lane in pixels: that of its content. */
export function laneWidths<E extends Laned>(
  { doubles, rows, columns }: LaneLayout<E>,
  print: (entry: E) => string,
): readonly number[] {
  const { letter, letters, step, narrowest, widest } = laneSizes;
  const lengths = doubles.map((double) => Math.min(double.length + 1, letters));
  for (const row of rows.slice(0, rowsMeasured)) {
    if ('mark' in row) continue;
    const said = Math.min(print(row.entry).length, letters);
    lengths[row.lane] = Math.max(lengths[row.lane] ?? 0, said);
  }
  return lengths.map((length, lane) => {
    const natural = Math.ceil(length * letter) + 40 + ((columns[lane] ?? 1) - 1) * step;
    return Math.min(widest, Math.max(narrowest, natural));
  });
}
