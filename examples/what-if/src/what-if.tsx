import { Button, Report } from 'page';
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

/** Plays a night of the observatory with faults switched on, and shows the result of its claims. */
export function WhatIf() {
  const [choice, setChoice] = useState<Choice>(() => readChoice(location.hash));
  /** The choice whose run is over. */
  const [over, setOver] = useState<Choice>();
  const [run, setRun] = useState<Run>();
  const [problem, setProblem] = useState<string>();
  const changed = useRef<string>(undefined);
  /** The run that was asked for last: an earlier one that ends after it is forgotten. */
  const asked = useRef(0);
  const { night, names } = choice;

  const isRunning = over !== choice;

  const start = async () => {
    const number = ++asked.current;
    const isLast = () => number === asked.current;
    setProblem(undefined);
    try {
      const record = await playNight(night, names);
      if (isLast()) setRun({ number, record, claims: changed.current });
    } catch (error) {
      if (isLast()) setProblem(error instanceof Error ? error.message : String(error));
    } finally {
      if (isLast()) setOver(choice);
    }
  };
  useEffect(() => {
    history.replaceState(null, '', writeChoice(choice));
    void start();
  }, [choice]);

  const choose = (other: Night) => {
    changed.current = undefined;
    setChoice({ night: other, names: new Set() });
  };
  const toggle = (name: string) => {
    const next = new Set(names);
    if (!next.delete(name)) next.add(name);
    setChoice({ night, names: next });
  };

  return (
    <div className="what-if">
      <form
        className="choices"
        aria-label="What if"
        onSubmit={(event) => {
          event.preventDefault();
          setChoice({ ...choice });
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
                onChange={() => choose(each)}
              />
              {each.name}
            </label>
          ))}
        </fieldset>
        <fieldset className="mistakes">
          <legend>Faults to switch on</legend>
          {night.mistakes.map(({ name, mistake }) => (
            <label key={name} title={name}>
              <input
                type="checkbox"
                name={name}
                checked={names.has(name)}
                onChange={() => toggle(name)}
              />
              {mistake}
            </label>
          ))}
        </fieldset>
        <Button isDisabled={isRunning}>{isRunning ? 'It is running …' : 'Run it again'}</Button>
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
  );
}

/** A night, and the faults that are switched on in it. */
interface Choice {
  readonly night: Night;
  readonly names: ReadonlySet<string>;
}

/**
 * The choice at the end of an address: `#night=a+dry+night&faults=opens-twice`. Parts that it does not name keep
 * their value.
 */
function readChoice(hash: string): Choice {
  const asked = new URLSearchParams(hash.slice(1));
  const night = nights.find(({ name }) => name === asked.get('night')) ?? nights[0];
  const known = night.mistakes.map(({ name }) => name);
  const names = (asked.get('faults') ?? '').split(',').filter((name) => known.includes(name));
  return { night, names: new Set(names) };
}

function writeChoice({ night, names }: Choice): string {
  const said = new URLSearchParams({ night: night.name });
  if (names.size > 0) said.set('faults', [...names].join(','));
  return `#${said.toString().replaceAll('%2C', ',')}`;
}
