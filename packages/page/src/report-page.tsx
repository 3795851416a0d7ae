import { Component, type ReactNode, useCallback, useEffect, useState } from 'react';
import type { PageRecord } from '#core/report/page-data.ts';
import { escapeControls } from '#core/value/escape.ts';
import { type Place, readPlace, writePlace } from './place.ts';
import { Report } from './report.tsx';

/** The whole page: a list if there are several records, and the one that is looked at. */
export function ReportPage({ records }: { readonly records: readonly PageRecord[] }) {
  const [start] = useState(() => readPlace(location.hash));
  const [chosen, setChosen] = useState(() =>
    Math.max(0, Math.min(start.record, records.length - 1)),
  );
  const record = records[chosen];
  const keep = useCallback(
    (place: Omit<Place, 'record'>) =>
      history.replaceState(null, '', writePlace({ ...place, record: chosen })),
    [chosen],
  );
  useEffect(() => {
    if (record !== undefined) document.title = titleOf(record);
  }, [record]);
  return (
    <main className="page">
      {records.length > 1 && (
        <nav className="records" aria-label="Records">
          <label htmlFor="record">Record</label>
          <select
            id="record"
            value={chosen}
            onChange={(event) => setChosen(Number((event.target as HTMLSelectElement).value))}
          >
            {records.map(({ file, verdict }, at) => (
              <option key={at} value={at}>
                {verdict === undefined ? '' : verdict.holds ? '✓ ' : '✗ '}
                {escapeControls(file)}
              </option>
            ))}
          </select>
        </nav>
      )}
      {record === undefined ? (
        <p>There is no record on this page. Make one: ekkon draw night.jsonl -o report.html</p>
      ) : (
        <Unreadable key={chosen}>
          <Report
            record={record}
            {...(chosen === start.record ? { place: start } : {})}
            onPlace={keep}
          />
        </Unreadable>
      )}
    </main>
  );
}

/** The title of the browser's tab: the finding, and its test. */
function titleOf({ file, verdict }: PageRecord): string {
  const found = verdict === undefined ? '' : verdict.holds ? '✓ ' : '✗ ';
  return `${found}${escapeControls(file)} · Ekkon`;
}

/** Says why a record cannot be shown, in place of it. */
class Unreadable extends Component<{ readonly children: ReactNode }, { readonly why?: string }> {
  override state: { readonly why?: string } = {};

  static getDerivedStateFromError(error: unknown) {
    return { why: error instanceof Error ? error.message : String(error) };
  }

  override render() {
    const { why } = this.state;
    return why === undefined ? (
      this.props.children
    ) : (
      <p role="alert">This record cannot be shown: {why}</p>
    );
  }
}
