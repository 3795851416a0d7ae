import Alert from '@mui/material/Alert';
import type { ToldVerdict } from '#core/report/told.ts';
import { FindingCard } from './finding-card.tsx';
import { LinkedText, ToldLineView } from './told-line.tsx';

interface Props {
  readonly verdict: ToldVerdict;
  /** The place of the finding that the lanes show. */
  readonly chosen: number | undefined;
  readonly onChoose: (finding: number) => void;
  readonly onEntry: (id: number) => void;
}

/** What was found: causes with the findings under them, the other findings, and the claims that hold. */
export function VerdictPanel({ verdict, chosen, onChoose, onEntry }: Props) {
  const { holds, heading, first, causes, findings, claims, pending, footers } = verdict;
  const shared = causes.filter(({ explains }) => explains.length > 1);
  const told = new Set(shared.flatMap(({ explains }) => explains));
  const others = findings.flatMap((_, at) => (told.has(at) ? [] : [at]));
  const holding = claims.filter(({ findings: found }) => found.length === 0);
  const cards = (places: readonly number[]) =>
    places.flatMap((at) => {
      const finding = findings[at];
      if (finding === undefined) return [];
      return [
        <FindingCard
          key={at}
          finding={finding}
          isChosen={at === chosen}
          onChoose={() => onChoose(at)}
          onEntry={onEntry}
        />,
      ];
    });
  return (
    <section aria-label="Verdict" className="verdict">
      <Alert severity={holds ? 'success' : 'error'} variant="outlined" role="status">
        <h2 className="heading">{heading}</h2>
        {findings.length > 1 && shared.length === 0 && (
          <LinkedText part={{ text: first }} onEntry={onEntry} />
        )}
      </Alert>
      {shared.map(({ message, explains }) => (
        <div key={message} className="cause">
          <h3 className="cause-head">
            one cause for {explains.length} claims:{' '}
            <LinkedText part={{ text: message }} onEntry={onEntry} />
          </h3>
          <ul className="findings">{cards(explains)}</ul>
        </div>
      ))}
      {others.length > 0 && <ul className="findings">{cards(others)}</ul>}
      {pending.length > 0 && (
        <div className="blocks">
          <h3>when the wait ended</h3>
          {pending.map((line, at) => (
            <ToldLineView key={at} line={line} onEntry={onEntry} />
          ))}
        </div>
      )}
      {holding.length > 0 && (
        <details className="holding" open={holds}>
          <summary>
            {holding.length} {holding.length === 1 ? 'claim holds' : 'claims hold'}
          </summary>
          <ul>
            {holding.map(({ notation }, at) => (
              <li key={at}>
                <code>{notation}</code>
              </li>
            ))}
          </ul>
        </details>
      )}
      {footers.map((footer) => (
        <p key={footer} className="faint">
          {footer}
        </p>
      ))}
    </section>
  );
}
