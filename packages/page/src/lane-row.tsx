import { memo, type ReactNode } from 'react';
import { printWithin } from '#core/notation/call.ts';
import { entryData } from '#core/record/entry-data.ts';
import { escapeControls } from '#core/record/escape.ts';
import { isAtOnce, type LaneRow } from '#core/report/lane-layout.ts';
import { laneSizes } from '#core/report/lane-sizes.ts';
import { printMark } from '#core/report/lanes.ts';
import { clip } from '#core/report/layout.ts';
import type { Geometry } from './geometry.ts';
import type { LanedEntry } from './open-record.ts';

interface Props {
  readonly row: LaneRow<LanedEntry>;
  readonly at: number;
  readonly count: number;
  readonly top: number;
  readonly geometry: Geometry;
  readonly isNarrow: boolean;
  readonly isChosen: boolean;
  readonly isAtFault: boolean;
  readonly note: string | undefined;
  readonly onChoose: (row: number) => void;
}

/** One row of the lanes: an entry's beginning or end, or a mark. */
export const LaneRowView = memo(function LaneRowView(props: Props) {
  const { row, at, count, top, geometry, isChosen, isAtFault, note, onChoose } = props;
  const style = { top, height: geometry.row, width: geometry.width };
  if ('mark' in row)
    return (
      <div style={style} className="lane-row mark" {...optionAt(at, count, false)}>
        <span className="numbers">
          <span />
          <span>{row.tick}</span>
        </span>
        <span className="event" style={{ left: geometry.x(0) }}>
          {printMark(row.mark)}
        </span>
      </div>
    );
  const { entry, end, lane, column, tick } = row;
  const text = end ? entry.held.outcome.state : escapeControls(printWithin(entryData(entry.held)));
  const classes = [
    'lane-row',
    end ? 'end' : '',
    isChosen ? 'chosen' : '',
    isAtFault ? 'fault' : '',
  ];
  return (
    // The list that holds the rows has the focus, hears the keys, and names the row that is chosen.
    // biome-ignore lint/a11y: see above.
    <div
      style={style}
      {...optionAt(at, count, isChosen)}
      className={classes.filter((each) => each !== '').join(' ')}
      onClick={() => onChoose(at)}
    >
      <span className="numbers">
        <span>#{entry.id}</span>
        <span>
          <Unseen>tick </Unseen>
          {tick}
        </span>
      </span>
      <Unseen> {escapeControls(entry.double)}: </Unseen>
      {!end && isAtOnce(entry) && (
        <span
          className={`sign ${entry.kind}`}
          style={{ left: geometry.x(lane, column), width: geometry.box, height: geometry.box }}
        />
      )}
      <span className="event" style={{ left: geometry.text(lane) }} title={text}>
        {!props.isNarrow && (
          <span className="what" style={{ maxWidth: roomFor(geometry, lane) }}>
            {clip(text, laneSizes.letters * 2)}
          </span>
        )}
        {note !== undefined && <span className="note"> ◂ {note}</span>}
      </span>
    </div>
  );
});

/** What makes a row one of a list to a screen reader. */
function optionAt(at: number, count: number, isChosen: boolean) {
  return {
    id: `row-${at}`,
    role: 'option',
    'aria-posinset': at + 1,
    'aria-setsize': count,
    'aria-selected': isChosen,
  } as const;
}

/** What a screen reader says, and the picture shows by where things stand. */
function Unseen({ children }: { readonly children: ReactNode }) {
  return <span className="unseen">{children}</span>;
}

/** What a text in a lane may take, in pixels. */
function roomFor({ lefts, text }: Geometry, lane: number): number {
  return (lefts[lane + 1] ?? 0) - text(lane) - 4;
}
