import Button from '@mui/material/Button';
import { PageTheme, Report } from 'page';
import { useEffect, useRef, useState } from 'react';
import type { PageRecord } from '#core/report/page-data.ts';
import { type Night, nights, playNight } from './play.ts';
import './what-if.css';

interface Run {
  readonly number: number;
  readonly record: PageRecord;
  /** The claims that were changed, and are kept for the next run of the same night. */
  readonly claims: string | undefined;
}

/** Plays a night of the observatory with faults switched on, and shows what its claims say. */
export function WhatIf() {
  const [night, setNight] = useState<Night | undefined>(nights[0]);
  const [names, setNames] = useState<ReadonlySet<string>>(new Set());
  const [isRunning, setRunning] = useState(false);
  const [run, setRun] = useState<Run>();
  const [problem, setProblem] = useState<string>();
  const changed = useRef<string>(undefined);

  const start = async () => {
    if (night === undefined || isRunning) return;
    setRunning(true);
    setProblem(undefined);
    try {
      const record = await playNight(night, names);
      setRun((last) => ({ number: (last?.number ?? 0) + 1, record, claims: changed.current }));
    } catch (error) {
      setProblem(error instanceof Error ? error.message : String(error));
    } finally {
      setRunning(false);
    }
  };
  useEffect(() => {
    changed.current = undefined;
    void start();
  }, [night]);

  const toggle = (name: string) => {
    const next = new Set(names);
    if (!next.delete(name)) next.add(name);
    setNames(next);
  };

  return (
    <PageTheme>
      <div className="what-if">
        <form
          className="choices"
          aria-label="What if"
          onSubmit={(event) => {
            event.preventDefault();
            void start();
          }}
        >
          <fieldset>
            <legend>Night</legend>
            {nights.map((each) => (
              <label key={each.name}>
                <input
                  type="radio"
                  name="night"
                  checked={each === night}
                  onChange={() => {
                    setNames(new Set());
                    setNight(each);
                  }}
                />
                {each.name}
              </label>
            ))}
          </fieldset>
          <fieldset className="mistakes">
            <legend>Faults to switch on</legend>
            {night?.mistakes.map(({ name, mistake }) => (
              <label key={name} title={mistake}>
                <input
                  type="checkbox"
                  name={name}
                  checked={names.has(name)}
                  onChange={() => toggle(name)}
                />
                {name}
              </label>
            ))}
          </fieldset>
          <Button type="submit" variant="contained" disabled={isRunning}>
            {isRunning ? 'The night is running …' : 'Run the night'}
          </Button>
          {problem !== undefined && <p role="alert">The night broke off: {problem}</p>}
        </form>
        {run !== undefined && (
          <main>
            <Report
              key={run.number}
              record={run.record}
              {...(run.claims === undefined ? {} : { place: { claims: run.claims } })}
              onPlace={({ claims }) => {
                changed.current = claims;
              }}
            />
          </main>
        )}
      </div>
    </PageTheme>
  );
}
