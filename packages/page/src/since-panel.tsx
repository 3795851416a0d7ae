import type { ToldSince } from '#core/report/since-data.ts';
import { LinkedText } from './told-line.tsx';

interface Props {
  readonly since: ToldSince;
  readonly onEntry: (id: number) => void;
}

/** What changed since the test last passed, a change at a time; each leads to its call in the lanes. */
export function SincePanel({ since, onEntry }: Props) {
  return (
    <section aria-label="Since it last passed" className="since">
      <h2 className="heading">{since.heading}</h2>
      <ol className="changes">
        {since.changes.map(({ title, entry, call, what, site, more }, at) => (
          <li key={at} className={title === '' ? undefined : 'marked'}>
            {title !== '' && <h3 className="change-title">{title}</h3>}
            <p className="change-call">
              {entry === undefined ? (
                <code>{call}</code>
              ) : (
                <button type="button" className="entry-link" onClick={() => onEntry(entry)}>
                  <code>{call}</code>
                </button>
              )}
            </p>
            <p className="received">
              <LinkedText part={{ text: what }} onEntry={onEntry} />
            </p>
            {site !== '' && <p className="faint">{site}</p>}
            {more.length > 0 && (
              <details>
                <summary>{more.length} more</summary>
                {more.map((line, place) => (
                  <p key={place}>
                    <LinkedText part={{ text: line }} onEntry={onEntry} />
                  </p>
                ))}
              </details>
            )}
          </li>
        ))}
      </ol>
    </section>
  );
}
