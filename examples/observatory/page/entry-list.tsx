import type { Entry, Outcome } from 'ekkon';

/** The entries so far, a row each, as the night goes on. */
export function EntryList({ entries }: { readonly entries: readonly Entry[] }) {
  if (entries.length === 0) return <p class="empty">No call yet: run the night.</p>;
  return (
    <table>
      <thead>
        <tr>
          <th>#</th>
          <th>ticks</th>
          <th>device</th>
          <th>call</th>
          <th>ended</th>
        </tr>
      </thead>
      <tbody>
        {entries.map(({ id, label, args, began, ended, outcome }) => (
          <tr key={id} class={outcome.state}>
            <td>{id}</td>
            <td>
              {began}–{ended ?? '…'}
            </td>
            <td>{label.split('.')[0]}</td>
            <td>
              <code>
                {label.split('.')[1]}({args.map(inShort).join(', ')})
              </code>
            </td>
            <td>{endOf(outcome)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function endOf(outcome: Outcome): string {
  switch (outcome.state) {
    case 'returned':
    case 'fulfilled':
      return outcome.value === undefined
        ? outcome.state
        : `${outcome.state} ${inShort(outcome.value)}`;
    case 'threw':
    case 'rejected':
      return `${outcome.state} ${inShort(outcome.reason)}`;
    case 'running':
    case 'pending':
      return outcome.state;
  }
}

function inShort(value: unknown): string {
  if (value instanceof Error || value instanceof Promise) return String(value);
  return JSON.stringify(value) ?? String(value);
}
