import type { ToldLine, ToldText } from '#core/report/told.ts';

interface Props {
  readonly line: ToldLine;
  /** Shows an entry that is named by its number. */
  readonly onEntry: (id: number) => void;
}

/** A line of a report: expected and received values in their colors, entries as links. */
export function ToldLineView({ line, onEntry }: Props) {
  return (
    <div className="told-line">
      {line.map((part, at) => (
        <span key={at} className={part.role === undefined ? undefined : `role-${part.role}`}>
          <LinkedText part={part} onEntry={onEntry} />
        </span>
      ))}
    </div>
  );
}

/** The text with each entry's number as a link to it. */
export function LinkedText({
  part: { text, role },
  onEntry,
}: {
  readonly part: ToldText;
  readonly onEntry: (id: number) => void;
}) {
  if (role === 'claim' || role === 'expected' || role === 'received') return text;
  return text.split(/(#\d+)/).map((piece, at) =>
    /^#\d+$/.test(piece) ? (
      <button
        key={at}
        type="button"
        className="entry-link"
        onClick={() => onEntry(Number(piece.slice(1)))}
      >
        {piece}
      </button>
    ) : (
      piece
    ),
  );
}
