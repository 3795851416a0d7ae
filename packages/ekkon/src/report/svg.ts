import { printWithin } from '../notation/call.ts';
import type { Entry } from '../record/entry.ts';
import { escapeControls } from '../value/escape.ts';
import type { Notes } from './block.ts';
import {
  isAtOnce,
  type LaneLayout,
  type LaneRow,
  laneLayout,
  type MarkShown,
  type Span,
} from './lane-layout.ts';
import { laneSizes, laneWidths } from './lane-sizes.ts';
import { noteOn, printMark } from './lanes.ts';
import { clip } from './layout.ts';
import { xml } from './xml.ts';

const { row: rowHeight, head: headHeight, numbers, step, box } = laneSizes;
const noteWidth = 300;
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
  marks: readonly MarkShown[] = [],
): string {
  const layout = laneLayout(entries, marks);
  const { rows, doubles } = layout;
  const lefts = leftsOf(layout);
  const ends = lefts.at(-1) ?? 0;
  const width = ends + margin + (notes.size > 0 ? noteWidth : 0);
  const bottom = margin + headHeight + rows.length * rowHeight;
  const x = (lane: number, column = 0) => (lefts[lane] ?? 0) + column * step;
  const textX = (lane: number) => x(lane, (layout.columns[lane] ?? 1) - 1) + box + 8;
  const y = (row: number) => margin + headHeight + row * rowHeight + rowHeight / 2;

  const heads = doubles.map(
    (double, lane) =>
      `<text class="head" x="${x(lane)}" y="${margin + 30}">${said(double, laneSizes.letters)}</text>
<line class="lane" x1="${x(lane) + 5}" y1="${margin + 40}" x2="${x(lane) + 5}" y2="${bottom}"/>`,
  );
  const spans = layout.spansIn(0, rows.length).map((span) => {
    const to = span.to === undefined ? bottom : y(span.to);
    return spanBox(x(span.lane, span.column), y(span.from), to, span);
  });
  const drawn = rows.map((row, at) => {
    const level = y(at) + 4;
    if ('mark' in row)
      return `<text class="tick" x="${margin + 44}" y="${level}">${row.tick}</text>
<text class="mark" x="${x(0)}" y="${level}">${said(printMark(row.mark), 80)}</text>`;
    return [
      noteBeside(row, at),
      `<text class="tick" x="${margin}" y="${level}">#${row.entry.id}</text>`,
      `<text class="tick" x="${margin + 44}" y="${level}">${row.tick}</text>`,
      eventAt(row, x(row.lane, row.column), textX(row.lane), y(at)),
    ].join('\n');
  });

  function noteBeside(row: LaneRow<Shown>, at: number): string {
    const note = noteOn(row, notes);
    if (note === undefined) return '';
    return `<rect class="marked" x="${margin}" y="${y(at) - rowHeight / 2}" width="${width - margin * 2}" height="${rowHeight}"/>
<text class="note" x="${ends}" y="${y(at) + 4}">◂ ${said(note, 40)}</text>`;
  }

  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${bottom + margin + rowHeight}" viewBox="0 0 ${width} ${bottom + margin + rowHeight}" role="img" aria-label="${xml(title)}">
<style>${style}</style>
<title>${xml(title)}</title>
${[...heads, ...spans, ...drawn].join('\n')}
</svg>
`;

  function leftsOf(laid: LaneLayout<Shown>): readonly number[] {
    const starts = [margin + numbers];
    for (const lane of laneWidths(laid, printWithin)) starts.push((starts.at(-1) ?? 0) + lane);
    return starts;
  }
}

const style = `
  svg { background: #fff; font: 12px ui-monospace, monospace; }
  text { fill: #1b2430; } .head { font-weight: bold; font-size: 13px; } .tick, .end, .mark { fill: #667; }
  .lane { stroke: #d5dae2; } .call { fill: #2456a6; } text.call { fill: #1b2430; }
  .span { fill: #b9cdf0; stroke: #2456a6; } .open { fill: none; stroke: #2456a6; stroke-dasharray: 3 2; }
  .marked { fill: #fdeaea; } .note { fill: #b02a2a; }
  @media (prefers-color-scheme: dark) {
    svg { background: #12161c; } text, text.call { fill: #e6eaf0; } .tick, .end, .mark { fill: #9aa6b5; }
    .lane { stroke: #2c3541; } .span { fill: #27406b; } .marked { fill: #3d2024; } .note { fill: #ff9c9c; }
  }
`;

/** An entry's beginning or its end: a sign, and the event. */
function eventAt(row: LaneRow<Shown>, x: number, textX: number, y: number): string {
  if ('mark' in row) return '';
  const { entry, end } = row;
  if (end)
    return `<text class="end" x="${textX}" y="${y + 4}">${said(entry.outcome.state, laneSizes.letters)}</text>`;
  const whole = printWithin(entry);
  const text = `<text class="call" x="${textX}" y="${y + 4}">${said(whole, laneSizes.letters)}<title>${xml(escapeControls(whole))}</title></text>`;
  return isAtOnce(entry) ? `${signFor(entry, x, y)}\n${text}` : text;
}

/**
 * The sign of an entry that ended at once: a box for a call, a dot for an item, a bar for an end, a cross for a
 * failure.
 */
function signFor({ kind }: Shown, x: number, y: number): string {
  if (kind === 'item') return `<circle class="call" cx="${x + 5}" cy="${y}" r="4.5"/>`;
  if (kind === 'end') return `<rect class="call" x="${x - 1}" y="${y - 2}" width="12" height="4"/>`;
  if (kind === 'failure') return `<path class="open" d="M${x} ${y - 5}l10 10m0 -10l-10 10"/>`;
  return `<rect class="call" x="${x}" y="${y - 5}" width="${box}" height="${box}"/>`;
}

/** A call from its beginning to its end; one without an end is drawn open. */
function spanBox(x: number, from: number, to: number, { to: end }: Span): string {
  const isEnded = end !== undefined;
  return `<rect class="${isEnded ? 'span' : 'span open'}" x="${x}" y="${from - 5}" width="${box}" height="${to - from + (isEnded ? 10 : 5)}"/>`;
}

function said(text: string, length: number): string {
  return xml(escapeControls(clip(text, length)));
}
