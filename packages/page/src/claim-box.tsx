import Button from '@mui/material/Button';
import FormControl from '@mui/material/FormControl';
import InputLabel from '@mui/material/InputLabel';
import OutlinedInput from '@mui/material/OutlinedInput';

interface Props {
  readonly claims: string;
  /** Why the claims cannot be read, if they cannot. */
  readonly problem: string | undefined;
  /** Whether they are other claims than those the record came with. */
  readonly isChanged: boolean;
  readonly onChange: (claims: string) => void;
  readonly onReset: () => void;
}

/** Where claims are written; they are judged as soon as they can be read. */
export function ClaimBox({ claims, problem, isChanged, onChange, onReset }: Props) {
  return (
    <section aria-label="Claims to try" className="claim-box">
      <FormControl fullWidth error={problem !== undefined}>
        <InputLabel htmlFor="claims">Claims</InputLabel>
        <OutlinedInput
          id="claims"
          label="Claims"
          multiline
          minRows={4}
          maxRows={14}
          value={claims}
          onChange={(event) => onChange((event.target as HTMLTextAreaElement).value)}
          inputProps={{ spellCheck: false, 'aria-describedby': 'claims-told' }}
        />
      </FormControl>
      <div id="claims-told" aria-live="polite">
        {problem !== undefined && <pre className="problem">{problem}</pre>}
      </div>
      <div className="actions">
        <Button size="small" disabled={!isChanged} onClick={onReset}>
          The claims it came with
        </Button>
      </div>
    </section>
  );
}
