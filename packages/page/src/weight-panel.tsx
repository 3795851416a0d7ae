import { useEffect, useState } from 'react';
import { byProposal, noClaim, percentOf, toldByEntry, type Weight } from '#core/weigh/weight.ts';
import { Button } from './controls.tsx';
import { weighText } from './judge-text.ts';
import type { OpenRecord } from './open-record.ts';
import { LinkedText } from './told-line.tsx';

interface Props {
  readonly record: OpenRecord;
  readonly claims: string;
  readonly onEntry: (id: number) => void;
  /** Adds a claim to those that are judged. */
  readonly onAdd: (claim: string) => void;
}

/** Entries up to which a record is weighed without being asked. */
const weighedAtOnce = 3_000;

/** The changes of a record that its claims would not notice, each with the claim to add. */
export function WeightPanel({ record, claims, onEntry, onAdd }: Props) {
  const [weight, setWeight] = useState<Weight | string>();
  const weigh = () => setWeight(weighText(record, claims));
  useEffect(() => {
    setWeight(undefined);
    if (record.entries.length <= weighedAtOnce) weigh();
  }, [record, claims]);
  return (
    <section aria-label="Weight" className="weight" aria-live="polite">
      {weight === undefined && (
        <Button onClick={weigh}>Weigh the claims on {record.entries.length} entries</Button>
      )}
      {typeof weight === 'string' && <pre className="problem">{weight}</pre>}
      {typeof weight === 'object' && <Weighed weight={weight} onEntry={onEntry} onAdd={onAdd} />}
    </section>
  );
}

function Weighed({
  weight,
  onEntry,
  onAdd,
}: Pick<Props, 'onEntry' | 'onAdd'> & { readonly weight: Weight }) {
  const { questions, noticed, unnoticed, tooTight } = weight;
  const [isCode, setCode] = useState(false);
  const groups = [...byProposal(unnoticed)].sort(
    ([one], [other]) => Number(one === '') - Number(other === ''),
  );
  return (
    <>
      <h2 className="heading">
        {noticed} of {questions} possible changes would be noticed ({percentOf(weight)} %)
      </h2>
      <p className="faint">
        Each call was left out, made twice, made too early and given other arguments, one change at
        a time: would a claim fail?{' '}
        {groups.length > 0 &&
          'Below are the changes that no claim would notice, with the claims to add first.'}
      </p>
      {groups.length > 0 && (
        <p>
          <Button isPressed={isCode} onClick={() => setCode(!isCode)}>
            {isCode ? 'Show as claims' : 'Show as code for a test'}
          </Button>
        </p>
      )}
      <ul className="findings">
        {groups.map(([claim, its]) => (
          <li key={claim} className="unnoticed">
            {claim === '' ? (
              <p className="faint">{noClaim}</p>
            ) : (
              <div className="proposal">
                <code className="claim">{isCode ? its[0]?.code : claim}</code>
                <Button onClick={() => onAdd(claim)}>Add this claim</Button>
              </div>
            )}
            <Folded lines={toldByEntry(its)} onEntry={onEntry} />
          </li>
        ))}
      </ul>
      {tooTight.length > 0 && <h3>Too tight</h3>}
      {tooTight.map(({ claim, message }) => (
        <p key={claim}>
          <code className="claim">{claim}</code>{' '}
          <LinkedText part={{ text: message }} onEntry={onEntry} />
        </p>
      ))}
    </>
  );
}

/** The first line, and the others once they are asked for. */
function Folded({
  lines: [first = '', ...rest],
  onEntry,
}: Pick<Props, 'onEntry'> & { readonly lines: readonly string[] }) {
  return (
    <div className="reasons">
      <LinkedText part={{ text: first }} onEntry={onEntry} />
      {rest.length > 0 && (
        <details className="more">
          <summary>{rest.length} more</summary>
          {rest.map((line) => (
            <p key={line}>
              <LinkedText part={{ text: line }} onEntry={onEntry} />
            </p>
          ))}
        </details>
      )}
    </div>
  );
}
