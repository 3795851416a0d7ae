import { printWithin } from '../notation/call.ts';
import type { Entry } from '../record/entry.ts';
import { escapeControls } from '../record/escape.ts';
import { xml } from './judged.ts';
import { isAtOnce, type LaneRows, laneRows, type Notes, noteKey } from './lanes.ts';
import { clip } from './layout.ts';

const rowHeight = 22;
const headHeight = 44;
const tickWidth = 96;
const [narrowest, widest] = [96, 236];
const signWidth = 7.3;
const noteWidth = 300;
const labelLength = 26;
const margin = 16;

type Shown = Omit<Entry, 'liveArgs'>;

/**
 * The lanes of a record as an SVG image: a lane for each double, ticks downward, calls as spans from beginning to
 * end. Everything that was recorded stands in it as text.
 */
export function lanesSvg(
  title: string,
  entries: readonly Shown[],
  notes: Notes = new Map(),
): string {
  const { rows, doubles } = laneRows(entries);
  const lefts = leftsOf(doubles, rows);
  const width = (lefts.at(-1) ?? 0) + margin + (notes.size > 0 ? noteWidth : 0);
  const height = margin * 2 + headHeight + rows.length * rowHeight + rowHeight;
  const bottom = margin + headHeight + rows.length * rowHeight;
  const x = (lane: number) => lefts[lane] ?? 0;
  const y = (row: number) => margin + headHeight + row * rowHeight + rowHeight / 2;
  const parts: string[] = [];
  doubles.forEach((double, lane) => {
    parts.push(
      `<text class="head" x="${x(lane)}" y="${margin + 30}">${said(double, labelLength)}</text>`,
      `<line class="lane" x1="${x(lane) + 5}" y1="${margin + 40}" x2="${x(lane) + 5}" y2="${bottom}"/>`,
    );
  });
  const began = new Map<number, { readonly row: number; readonly deep: number }>();
  rows.forEach(({ entry, tick, end, lane, open }, at) => {
    const deep = (open[lane] ?? []).length;
    const note =
      notes.get(noteKey(entry.id, end)) ??
      (isAtOnce(entry) ? notes.get(noteKey(entry.id, true)) : undefined);
    if (note !== undefined)
      parts.push(
        `<rect class="marked" x="${margin}" y="${y(at) - rowHeight / 2}" width="${width - margin * 2}" height="${rowHeight}"/>`,
        `<text class="note" x="${x(doubles.length)}" y="${y(at) + 4}">◂ ${said(note, 40)}</text>`,
      );
    parts.push(
      `<text class="tick" x="${margin}" y="${y(at) + 4}">#${entry.id}</text>`,
      `<text class="tick" x="${margin + 44}" y="${y(at) + 4}">${tick}</text>`,
    );
    if (end) {
      const start = began.get(entry.id);
      if (start !== undefined) parts.push(span(x(lane), y(start.row), y(at), start.deep, true));
      parts.push(
        `<text class="end" x="${x(lane) + 18}" y="${y(at) + 4}">${said(entry.outcome.state, labelLength)}</text>`,
      );
      return;
    }
    if (!isAtOnce(entry)) began.set(entry.id, { row: at, deep });
    else
      parts.push(
        `<rect class="call" x="${x(lane) + deep * 6}" y="${y(at) - 5}" width="10" height="10"/>`,
      );
    parts.push(
      `<text class="call" x="${x(lane) + 18 + deep * 6}" y="${y(at) + 4}">${said(printWithin(entry), labelLength)}<title>${xml(escapeControls(printWithin(entry)))}</title></text>`,
    );
  });
  for (const { entry, end, lane } of rows) {
    const start = began.get(entry.id);
    if (end || start === undefined || entry.ended !== undefined) continue;
    parts.push(span(x(lane), y(start.row), bottom, start.deep, false));
  }
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}" role="img" aria-label="${xml(title)}">
<style>
  svg { background: #fff; font: 12px ui-monospace, monospace; }
  text { fill: #1b2430; } .head { font-weight: bold; font-size: 13px; } .tick, .end { fill: #667; }
  .lane { stroke: #d5dae2; } .call { fill: #2456a6; } text.call { fill: #1b2430; }
  .span { fill: #b9cdf0; stroke: #2456a6; } .open { fill: none; stroke: #2456a6; stroke-dasharray: 3 2; }
  .marked { fill: #fdeaea; } .note { fill: #b02a2a; }
  @media (prefers-color-scheme: dark) {
    svg { background: #12161c; } text, text.call { fill: #e6eaf0; } .tick, .end { fill: #9aa6b5; }
    .lane { stroke: #2c3541; } .span { fill: #27406b; } .marked { fill: #3d2024; } .note { fill: #ff9c9c; }
  }
</style>
<title>${xml(title)}</title>
${parts.join('\n')}
</svg>
`;
}

/** Where each lane begins, and behind the last one where they end: as wide as what stands in them. */
function leftsOf(doubles: readonly string[], rows: LaneRows['rows']): readonly number[] {
  const lengths = doubles.map((double) => Math.min(double.length + 1, labelLength));
  for (const { entry, lane } of rows) {
    const said = Math.min(printWithin(entry).length, labelLength);
    lengths[lane] = Math.max(lengths[lane] ?? 0, said);
  }
  const lefts = [margin + tickWidth];
  for (const length of lengths) {
    const lane = Math.min(widest, Math.max(narrowest, Math.ceil(length * signWidth) + 40));
    lefts.push((lefts.at(-1) ?? 0) + lane);
  }
  return lefts;
}

/** A call from its beginning to its end; one without an end is drawn open. */
function span(x: number, from: number, to: number, deep: number, isEnded: boolean): string {
  return `<rect class="${isEnded ? 'span' : 'span open'}" x="${x + deep * 6}" y="${from - 5}" width="10" height="${to - from + (isEnded ? 10 : 5)}"/>`;
}

function said(text: string, length: number): string {
  return xml(escapeControls(clip(text, length)));
}
