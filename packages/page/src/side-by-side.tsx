import { useEffect, useRef } from 'react';
import { printCall } from '#core/notation/call.ts';
import { entryData } from '#core/record/entry-data.ts';
import type { HeldEntry } from '#core/record/journal.ts';
import { clip } from '#core/report/layout.ts';
import type { SideBySideRow } from '#core/since/side-by-side.ts';
import { escapeControls } from '#core/value/escape.ts';

interface Props {
  readonly rows: readonly SideBySideRow[];
  /** The call of the later record that is looked at. */
  readonly looked: number | undefined;
  readonly onEntry: (id: number) => void;
}

/** Two records beside each other: the last passing run on the left, this one on the right, the same calls in one row. */
export function SideBySide({ rows, looked, onEntry }: Props) {
  const scroller = useRef<HTMLElement>(null);
  useEffect(() => {
    scroller.current
      ?.querySelector('tr.looked, tr:not(.same)')
      ?.scrollIntoView({ block: 'center' });
  }, [rows, looked]);
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls is reached by key.
    <section className="beside" ref={scroller} tabIndex={0} aria-label="Both runs">
      <table>
        <thead>
          <tr>
            <th scope="col">when it last passed</th>
            <th scope="col">now</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(({ was, now, is }, at) => (
            <tr
              key={at}
              className={now?.id === looked && looked !== undefined ? `${is} looked` : is}
            >
              <Cell entry={was} other={now} is={is} />
              <Cell entry={now} other={was} is={is} onEntry={onEntry} />
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

const words = { same: '', changed: '', gone: 'missing', new: 'new', moved: 'moved' } as const;

function Cell({
  entry,
  other,
  is,
  onEntry,
}: {
  readonly entry: HeldEntry | undefined;
  readonly other: HeldEntry | undefined;
  readonly is: SideBySideRow['is'];
  readonly onEntry?: (id: number) => void;
}) {
  if (entry === undefined) return <td className="none">{other === undefined ? '' : words[is]}</td>;
  const text = escapeControls(printCall(entryData(entry)));
  return (
    <td title={text}>
      {onEntry === undefined ? (
        <span className="faint">#{entry.id}</span>
      ) : (
        <button type="button" className="entry-link" onClick={() => onEntry(entry.id)}>
          #{entry.id}
        </button>
      )}{' '}
      <code>{clip(text, lettersMost)}</code>
    </td>
  );
}

const lettersMost = 120;
