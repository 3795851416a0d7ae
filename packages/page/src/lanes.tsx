import { useVirtualizer } from '@tanstack/react-virtual';
import { useCallback, useEffect, useMemo, useRef } from 'react';
import type { LaneLayout } from '#core/report/lane-layout.ts';
import { clip } from '#core/report/layout.ts';
import type { ToldFinding, ToldMoment } from '#core/report/told.ts';
import { escapeControls } from '#core/value/escape.ts';
import { geometryOf, numbersWidth } from './geometry.ts';
import { LaneDrawing } from './lane-drawing.tsx';
import { LaneRowView } from './lane-row.tsx';
import type { LanedEntry } from './open-record.ts';
import { usePrinting } from './use-printing.ts';
import { useWidth } from './use-width.ts';

/** The event in view: an entry's beginning or its end. A new object asks to show it again. */
export interface Looked extends ToldMoment {}

interface Props {
  readonly layout: LaneLayout<LanedEntry>;
  readonly zoom: number;
  readonly collapsed: ReadonlySet<string>;
  readonly onCollapse: (double: string) => void;
  /** All that was found: its culprits are marked. */
  readonly findings: readonly ToldFinding[];
  /** The finding whose order and stretch are drawn. */
  readonly finding: ToldFinding | undefined;
  readonly looked: Looked | undefined;
  readonly onLook: (looked: Looked) => void;
}

const headHeight = 36;

/** Rows that there are elements for at least. */
const slotsLeast = 64;

/** Rows that are printed; on paper there is no scrolling. */
const printedRows = 300;

/** The lanes of a record: one for each double, ticks downward; only the visible part is drawn. */
export function Lanes(props: Props) {
  const { layout, zoom, collapsed, onCollapse, findings, finding, looked, onLook } = props;
  const { rows } = layout;
  const scroller = useRef<HTMLDivElement>(null);
  const isPrinting = usePrinting();
  const room = useWidth(scroller);
  const geometry = useMemo(
    () => geometryOf(layout, zoom, collapsed, room),
    [layout, zoom, collapsed, room],
  );
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => geometry.row,
    scrollMargin: headHeight,
    overscan: 4,
  });
  useEffect(() => virtual.measure(), [geometry.row]);

  const chosen = looked === undefined ? undefined : layout.rowOf(looked.entry, looked.end);
  useEffect(() => {
    if (chosen === undefined) return;
    virtual.scrollToIndex(chosen, { align: 'center' });
    showLane(scroller.current, geometry.lefts, rows[chosen]);
  }, [looked]);

  const choose = useCallback(
    (at: number) => {
      const row = rows[at];
      if (row !== undefined && !('mark' in row)) onLook({ entry: row.entry.id, end: row.end });
    },
    [rows, onLook],
  );
  const marked = useMemo(() => markedBy(findings, finding, layout), [findings, finding, layout]);
  const items = isPrinting
    ? rows.slice(0, printedRows).map((_, index) => ({ index, start: index * geometry.row }))
    : virtual.getVirtualItems().map(({ index, start }) => ({ index, start: start - headHeight }));
  const [first, last] = [items[0]?.index ?? 0, items.at(-1)?.index ?? 0];
  const slots = 2 ** Math.ceil(Math.log2(Math.max(slotsLeast, items.length)));
  const height = isPrinting ? items.length * geometry.row : rows.length * geometry.row;

  return (
    <div className="lanes-scroll" ref={scroller}>
      <div className="lanes-head" style={{ width: geometry.width, height: headHeight }}>
        <span className="numbers" style={{ width: numbersWidth }}>
          <span>entry</span>
          <span>tick</span>
        </span>
        {layout.doubles.map((double, lane) => (
          <button
            key={double}
            type="button"
            className="lane-name"
            aria-expanded={!collapsed.has(double)}
            title={`${collapsed.has(double) ? 'Show' : 'Collapse'} the lane of ${escapeControls(double)}`}
            style={{
              left: geometry.x(lane),
              width: (geometry.lefts[lane + 1] ?? 0) - geometry.x(lane) - 4,
            }}
            onClick={() => onCollapse(double)}
          >
            {escapeControls(clip(double, collapsed.has(double) ? 4 : 40))}
          </button>
        ))}
      </div>
      <div
        className="lanes-body"
        role="listbox"
        aria-label="Events, in the order of their ticks"
        aria-activedescendant={chosen === undefined ? undefined : `row-${chosen}`}
        tabIndex={0}
        style={{ height, width: geometry.width, fontSize: `${12 * zoom}px` }}
        onKeyDown={(event) => {
          const to = rowByKey(event.key, chosen, rows.length);
          if (to === undefined) return;
          event.preventDefault();
          choose(to);
        }}
      >
        {items.map(({ index, start }) => {
          const row = rows[index];
          if (row === undefined) return null;
          const isMark = 'mark' in row;
          return (
            <LaneRowView
              // Rows that go out of sight are used again for those that come in.
              key={index % slots}
              row={row}
              at={index}
              count={rows.length}
              top={start}
              geometry={geometry}
              isNarrow={!isMark && collapsed.has(row.entry.double)}
              isChosen={index === chosen}
              isAtFault={!isMark && marked.culprits.has(row.entry.id)}
              note={marked.notes.get(index)}
              onChoose={choose}
            />
          );
        })}
        <LaneDrawing
          layout={layout}
          geometry={geometry}
          first={first}
          last={last}
          stretch={marked.stretch}
          arrow={marked.arrow}
        />
      </div>
      {isPrinting && rows.length > printedRows && (
        <p className="faint">… {rows.length - printedRows} more events</p>
      )}
    </div>
  );
}

interface Marked {
  readonly culprits: ReadonlySet<number>;
  readonly notes: ReadonlyMap<number, string>;
  readonly arrow: readonly [number, number] | undefined;
  readonly stretch: readonly [number, number] | undefined;
}

/** The marks of findings in the lanes, by rows; the order and the stretch are those of one. */
function markedBy(
  findings: readonly ToldFinding[],
  finding: ToldFinding | undefined,
  layout: LaneLayout<LanedEntry>,
): Marked {
  const { order, stretch } = finding ?? {};
  const rowOf = ({ entry, end }: ToldMoment) => layout.rowOf(entry, end);
  const [earlier, later] = [order && rowOf(order.earlier), order && rowOf(order.later)];
  const notes = new Map<number, string>();
  // Notes of the chosen finding come before those of others on the same call.
  for (const { says, ...moment } of [...findings, ...(finding ? [finding] : [])].flatMap(
    ({ notes: told }) => told,
  )) {
    const at = rowOf(moment);
    if (at !== undefined) notes.set(at, says);
  }
  return {
    culprits: new Set(findings.flatMap(({ culprits }) => culprits)),
    notes,
    arrow: earlier === undefined || later === undefined ? undefined : [earlier, later],
    stretch: stretch === undefined ? undefined : rowsBetween(layout, stretch),
  };
}

function rowsBetween(
  { rows }: LaneLayout<LanedEntry>,
  { after, before }: NonNullable<ToldFinding['stretch']>,
): readonly [number, number] {
  const from = after === null ? -1 : rows.findIndex(({ tick }) => tick >= after);
  const to = before === null ? -1 : rows.findIndex(({ tick }) => tick >= before);
  return [from, to < 0 ? rows.length : to];
}

/** The row that a key leads to. */
function rowByKey(key: string, chosen: number | undefined, count: number): number | undefined {
  const from = chosen ?? -1;
  const steps: Readonly<Record<string, number>> = {
    ArrowDown: from + 1,
    ArrowUp: from - 1,
    PageDown: from + 20,
    PageUp: from - 20,
    Home: 0,
    End: count - 1,
  };
  const to = steps[key];
  return to === undefined ? undefined : Math.min(count - 1, Math.max(0, to));
}

/** Scrolls sideways so far that the lane of a row is in sight. */
function showLane(
  scroller: HTMLElement | null,
  lefts: readonly number[],
  row: LaneLayout<LanedEntry>['rows'][number] | undefined,
): void {
  if (scroller === null || row === undefined || 'mark' in row) return;
  const left = (lefts[row.lane] ?? 0) - numbersWidth;
  const right = lefts[row.lane + 1] ?? 0;
  if (left < scroller.scrollLeft) scroller.scrollLeft = left;
  else if (right > scroller.scrollLeft + scroller.clientWidth)
    scroller.scrollLeft = Math.min(left, right - scroller.clientWidth + noteRoom);
}

/** The room for a note behind an event's text. */
const noteRoom = 120;
