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

/** The findings in the order of time, those of one cause together; and the claims that hold. */
export function VerdictPanel({ verdict, chosen, onChoose, onEntry }: Props) {
  const { holds, heading, groups, findings, claims, standing, footers, since } = verdict;
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
      <div className={holds ? 'outcome good' : 'outcome bad'} role="status">
        <h2 className="heading">{heading}</h2>
      </div>
      {since !== undefined && (
        <div className="since">
          <h3 className="change-title">{since.heading}</h3>
          <p>
            <LinkedText part={{ text: since.first }} onEntry={onEntry} />
          </p>
        </div>
      )}
      {groups.map(({ message, findings: together }) => (
        <div key={together[0]} className={together.length > 1 ? 'cause' : undefined}>
          {together.length > 1 && (
            <h3 className="cause-head">
              <LinkedText part={{ text: message }} onEntry={onEntry} />
            </h3>
          )}
          <ul className="findings">{cards(together)}</ul>
        </div>
      ))}
      {standing.length > 0 && (
        <div className="blocks">
          <h3>when the wait ended</h3>
          {standing.map((line, at) => (
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
