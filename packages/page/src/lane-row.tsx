import { memo } from 'react';
import { printWithin } from '#core/notation/call.ts';
import { entryData } from '#core/record/entry-data.ts';
import { isAtOnce, type LaneRow } from '#core/report/lane-layout.ts';
import { laneSizes } from '#core/report/lane-sizes.ts';
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
  const whole = end ? entry.held.outcome.state : escapeControls(printWithin(entryData(entry.held)));
  const text = clip(whole, laneSizes.letters * 2);
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
      // What is in sight, and the lane that it stands in; engines take long to put it together by themselves.
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
      <span className="event" style={{ left: geometry.text(lane) }} title={whole}>
        {!isNarrow && (
          <span className="what" style={{ maxWidth: roomFor(geometry, lane) }}>
            {text}
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

/** What a text in a lane may take, in pixels. */
function roomFor({ lefts, text }: Geometry, lane: number): number {
  return (lefts[lane + 1] ?? 0) - text(lane) - 4;
}
