import { memo } from 'react';
import { printWithin } from '#core/notation/call.ts';
import { entryData } from '#core/record/entry-data.ts';
import { printChanged } from '#core/report/changed-call.ts';
import { isAtOnce, type LaneRow } from '#core/report/lane-layout.ts';
import { printMark } from '#core/report/lanes.ts';
import { clip } from '#core/report/layout.ts';
import { escapeControls } from '#core/value/escape.ts';
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
  const { row, at, count, top, geometry, isNarrow, isChosen, isAtFault, note, onChoose } = props;
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
  const { state } = entry.held.outcome;
  const whole = end ? state : escapeControls(printWithin(entryData(entry.held)));
  const text = end ? state : clip(escapeControls(changedText(entry)), lettersMost);
  const place = placeOf(geometry, lane, column, text.length + (note?.length ?? 0));
  const said = [
    `#${entry.id} ${tick}`,
    ...(isNarrow ? [] : [text]),
    ...(note === undefined ? [] : [`◂ ${note}`]),
  ];
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
      // The visible text, and the lane of the row; engines take long to compute it themselves.
      aria-label={`${said.join(' ')}, ${escapeControls(entry.double)}`}
      onClick={() => onChoose(at)}
    >
      <span className="numbers">
        <span>#{entry.id}</span>
        <span> {tick}</span>
      </span>{' '}
      {!end && isAtOnce(entry) && (
        <span
          className={`sign ${entry.kind}`}
          style={{ left: geometry.x(lane, column), width: geometry.box, height: geometry.box }}
        />
      )}
      <span className="event" style={place} title={whole}>
        {!isNarrow && <span className="what">{text}</span>}
        {note !== undefined && <span className="note"> ◂ {note}</span>}
      </span>
    </div>
  );
});

/** The attributes that make a row one of a list for a screen reader. */
function optionAt(at: number, count: number, isChosen: boolean) {
  return {
    id: `row-${at}`,
    role: 'option',
    'aria-posinset': at + 1,
    'aria-setsize': count,
    'aria-selected': isChosen,
  } as const;
}

/** Letters of a text at most: more than a row has room for. */
const lettersMost = 240;

/** The difference between a call and the one of its member before it. */
function changedText({ held, before }: LanedEntry): string {
  return printChanged(entryData(held), before && entryData(before));
}

/** A text has the row to itself: it stands to the right of its sign if it has room there, else where there is more. */
function placeOf(
  { lefts, text, x, width, letter }: Geometry,
  lane: number,
  column: number,
  letters: number,
) {
  const start = lefts[0] ?? 0;
  const [right, left] = [width - text(lane) - 4, x(lane) - start - 8];
  return right >= left || letters * letter <= right
    ? { left: text(lane), maxWidth: right }
    : { right: width - x(lane, column) + 6, maxWidth: left };
}
