import Button from '@mui/material/Button';
import { useEffect, useState } from 'react';
import { byProposal, toldByEntry, type Weight, weightHeading } from '#core/weigh/weight.ts';
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

/** What of a record its claims would not notice, each with the claim to add. */
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
  const { unnoticed, tooTight } = weight;
  const groups = byProposal(unnoticed);
  return (
    <>
      <h2 className="heading">{weightHeading(weight)}</h2>
      {groups.size > 0 && <p>Nobody would notice, if</p>}
      <ul className="findings">
        {[...groups].map(([claim, its]) => (
          <li key={claim} className="unnoticed">
            <ul>
              {toldByEntry(its).map((line) => (
                <li key={line}>
                  <LinkedText part={{ text: line }} onEntry={onEntry} />
                </li>
              ))}
            </ul>
            {claim === '' ? (
              <p className="faint">no claim is known that would notice it</p>
            ) : (
              <div className="proposal">
                <code className="claim">{claim}</code>
                <code className="faint">{its[0]?.code}</code>
                <Button size="small" variant="outlined" onClick={() => onAdd(claim)}>
                  Add this claim
                </Button>
              </div>
            )}
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
