import { printWithin } from '#core/notation/call.ts';
import { entryData } from '#core/record/entry-data.ts';
import type { LaneLayout } from '#core/report/lane-layout.ts';
import { laneSizes, laneWidths } from '#core/report/lane-sizes.ts';
import type { LanedEntry } from './open-record.ts';

/** Where things stand in the lanes, in pixels. */
export interface Geometry {
  readonly row: number;
  readonly step: number;
  readonly box: number;
  /** The width of a letter. */
  readonly letter: number;
  /** Where each lane begins, and behind the last one where they end. */
  readonly lefts: readonly number[];
  readonly width: number;
  x(lane: number, column?: number): number;
  /** Where texts begin in a lane: to the right of everything that is drawn in it. */
  text(lane: number): number;
}

/** The width of a lane of which only the signs are shown. */
const collapsedWidth = 44;

/** The width of the numbers on the left. */
export const numbersWidth = 112;

/** Free room behind the last lane: notes reach over it. */
const margin = 24;

/** The narrowest that a lane gets so that all have room. */
const narrowest = 110;

/** How high all rows together may get: engines draw nothing beyond. */
const highest = 15_000_000;

/**
 * The picture's measures at a zoom, with some lanes collapsed.
 *
 * @param room the available width in pixels; lanes get narrower to fit, as long as they stay readable
 */
export function geometryOf(
  layout: LaneLayout<LanedEntry>,
  zoom: number,
  collapsed: ReadonlySet<string>,
  room: number,
): Geometry {
  const natural = laneWidths(layout, ({ held }) => printWithin(entryData(held)));
  const widths = fitted(
    layout.doubles.map((double, lane) =>
      collapsed.has(double) ? collapsedWidth : (natural[lane] ?? 0) * zoom,
    ),
    room - numbersWidth - margin,
  );
  const lefts = [numbersWidth];
  for (const width of widths) lefts.push((lefts.at(-1) ?? 0) + width);
  const row = Math.min(laneSizes.row * zoom, highest / Math.max(1, layout.rows.length));
  const step = laneSizes.step * zoom;
  return {
    row,
    step,
    box: laneSizes.box * zoom,
    letter: laneSizes.letter * zoom,
    lefts,
    width: Math.max((lefts.at(-1) ?? 0) + margin, room),
    x: (lane, column = 0) => (lefts[lane] ?? 0) + column * step,
    text: (lane) =>
      (lefts[lane] ?? 0) + ((layout.columns[lane] ?? 1) - 1) * step + laneSizes.box * zoom + 6,
  };
}

/** Widths of which the largest are cut to one size, so all fit into the room. */
function fitted(widths: readonly number[], room: number): readonly number[] {
  const total = (most: number) => widths.reduce((sum, width) => sum + Math.min(width, most), 0);
  let [low, high] = [narrowest, Math.max(narrowest, ...widths)];
  while (high - low > 1) {
    const middle = (low + high) / 2;
    if (total(middle) > room) high = middle;
    else low = middle;
  }
  return widths.map((width) => Math.min(width, low));
}
