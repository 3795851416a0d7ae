import type { Entry } from 'ekkon';
import { render } from 'preact';
import { useState } from 'preact/hooks';
import { faults } from '../src/index.ts';
import { EntryList } from './entry-list.tsx';
import { type Night, runNight } from './run-night.ts';

function Page() {
  const [fault, setFault] = useState('');
  const [running, setRunning] = useState(false);
  const [entries, setEntries] = useState<readonly Entry[]>([]);
  const [night, setNight] = useState<Night>();

  const run = async () => {
    setRunning(true);
    setNight(undefined);
    try {
      const result = await runNight(fault === '' ? undefined : fault, setEntries);
      setEntries(result.entries);
      setNight(result);
    } finally {
      setRunning(false);
    }
  };

  return (
    <>
      <header>
        <h1>A night at the observatory</h1>
        <p>
          Every call the devices receive is recorded, and claims are checked when the night is over.
        </p>
        <form
          onSubmit={(event) => {
            event.preventDefault();
            void run();
          }}
        >
          <label for="fault">Mistake in the night run</label>
          <select
            id="fault"
            value={fault}
            onChange={(event) => setFault(event.currentTarget.value)}
          >
            <option value="">none</option>
            {faults.map(({ name, mistake }) => (
              <option key={name} value={name}>
                {name}: {mistake}
              </option>
            ))}
          </select>
          <button type="submit" disabled={running}>
            {running ? 'Night is running …' : 'Run the night'}
          </button>
        </form>
      </header>
      {night !== undefined && <Verdict night={night} />}
      <EntryList entries={entries} />
    </>
  );
}

function Verdict({ night }: { readonly night: Night }) {
  return (
    <section class={night.holds ? 'verdict holds' : 'verdict fails'} aria-live="polite">
      <h2>{night.holds ? 'All claims hold' : 'Not all claims hold'}</h2>
      <pre id="report">{night.report}</pre>
    </section>
  );
}

const root = document.getElementById('page');
if (root === null) throw new Error('the page has no place to be drawn in');
render(<Page />, root);
