import type { LaneLayout } from '#core/report/lane-layout.ts';
import type { Geometry } from './geometry.ts';
import type { OpenRecord } from './open-record.ts';

interface Props {
  readonly layout: LaneLayout<OpenRecord['entries'][number]>;
  readonly geometry: Geometry;
  /** The rows that are in sight. */
  readonly first: number;
  readonly last: number;
  /** The rows of a stretch: from below the one to above the other. */
  readonly stretch: readonly [number, number] | undefined;
  /** From the row that had to come first to the one that came before it. */
  readonly arrow: readonly [number, number] | undefined;
}

/** The drawing behind the visible rows: lanes, calls from beginning to end, a stretch, and a violated order. */
export function LaneDrawing({ layout, geometry, first, last, stretch, arrow }: Props) {
  const { row, box, width, x, lefts } = geometry;
  const top = first * row;
  const y = (at: number) => (at - first) * row + row / 2;
  const height = (last - first + 1) * row;
  return (
    <svg className="drawing" style={{ top }} width={width} height={height} aria-hidden="true">
      <defs>
        <marker
          id="arrow-head"
          viewBox="0 0 8 8"
          refX="7"
          refY="4"
          markerWidth="8"
          markerHeight="8"
          orient="auto"
        >
          <path className="arrow-head" d="M0 0l8 4l-8 4z" />
        </marker>
      </defs>
      {stretch !== undefined && (
        <rect
          className="stretch"
          x="0"
          width={width}
          y={y(stretch[0])}
          height={Math.max(0, y(stretch[1]) - y(stretch[0]))}
        />
      )}
      {layout.doubles.map((double, lane) => (
        <line
          key={double}
          className="lane"
          x1={x(lane) + box / 2}
          x2={x(lane) + box / 2}
          y1="0"
          y2={height}
        />
      ))}
      {layout.spansIn(first, last).map((span) => {
        const from = y(span.from) - box / 2;
        const to = span.to === undefined ? y(layout.rows.length) : y(span.to) + box / 2;
        const left = Math.min(x(span.lane, span.column), (lefts[span.lane + 1] ?? 0) - box);
        // Parts far out of sight are cut off: engines draw long boxes badly.
        const [cutFrom, cutTo] = [Math.max(from, -row * 2), Math.min(to, height + row * 2)];
        return (
          <rect
            key={span.id}
            className={span.to === undefined ? 'span open' : 'span'}
            x={left}
            y={cutFrom}
            width={box}
            height={Math.max(0, cutTo - cutFrom)}
          />
        );
      })}
      {arrow !== undefined && <Arrow geometry={geometry} layout={layout} arrow={arrow} y={y} />}
    </svg>
  );
}

/** From the event that had to come first to the one that came before it. */
function Arrow({
  geometry: { x, box },
  layout,
  arrow: [from, to],
  y,
}: Pick<Props, 'geometry' | 'layout'> & {
  readonly arrow: readonly [number, number];
  readonly y: (row: number) => number;
}) {
  const place = (at: number) => {
    const row = layout.rows[at];
    return row === undefined || 'mark' in row ? 0 : x(row.lane, row.column) + box / 2;
  };
  const [x1, x2] = [place(from), place(to)];
  const bend = Math.max(0, Math.min(x1, x2) - 70);
  return (
    <path
      className="arrow"
      markerEnd="url(#arrow-head)"
      d={`M${x1 - box} ${y(from)}C${bend} ${y(from)} ${bend} ${y(to)} ${x2 - box} ${y(to)}`}
    />
  );
}
