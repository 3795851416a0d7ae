import { Button } from './controls.tsx';

interface Props {
  readonly claims: string;
  /** Why the claims cannot be read, if they cannot. */
  readonly problem: string | undefined;
  /** Whether they are other claims than those the record came with. */
  readonly isChanged: boolean;
  readonly onChange: (claims: string) => void;
  readonly onReset: () => void;
}

const [rowsLeast, rowsMost] = [4, 14];

/** Where claims are written; they are judged as soon as they can be read. */
export function ClaimBox({ claims, problem, isChanged, onChange, onReset }: Props) {
  return (
    <section aria-label="Claims to try" className="claim-box">
      <label htmlFor="claims">Claims</label>
      <textarea
        id="claims"
        className={problem === undefined ? '' : 'wrong'}
        rows={Math.min(rowsMost, Math.max(rowsLeast, claims.split('\n').length))}
        value={claims}
        onInput={(event) => onChange((event.target as HTMLTextAreaElement).value)}
        spellCheck={false}
        aria-describedby="claims-told"
      />
      <div id="claims-told" aria-live="polite">
        {problem !== undefined && <pre className="problem">{problem}</pre>}
      </div>
      <div className="actions">
        <Button isDisabled={!isChanged} onClick={onReset}>
          The claims it came with
        </Button>
      </div>
    </section>
  );
}
