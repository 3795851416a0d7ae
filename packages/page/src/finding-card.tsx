import Paper from '@mui/material/Paper';
import type { ToldFinding } from '#core/report/told.ts';
import { DifferenceList } from './difference-list.tsx';
import { LinkedText, ToldLineView } from './told-line.tsx';

interface Props {
  readonly finding: ToldFinding;
  readonly isChosen: boolean;
  /** Moves the lanes to what is at fault. */
  readonly onChoose: () => void;
  readonly onEntry: (id: number) => void;
}

/** One reason why a claim does not hold: everything that the text report says of it. */
export function FindingCard({ finding, isChosen, onChoose, onEntry }: Props) {
  const { code, claim, message, blocks } = finding;
  return (
    <Paper
      variant="outlined"
      className={isChosen ? 'finding chosen' : 'finding'}
      data-code={code}
      component="li"
    >
      <button type="button" className="finding-head" aria-pressed={isChosen} onClick={onChoose}>
        <code className="claim">{claim}</code>
      </button>
      <p className="message">
        <LinkedText part={{ text: message }} onEntry={onEntry} />
      </p>
      <div className="blocks">
        {blocks.map((block, at) =>
          block.is === 'line' ? (
            <ToldLineView key={at} line={block.line} onEntry={onEntry} />
          ) : (
            <div key={at} className="tree">
              {block.is === 'changes' && <div className="faint">changed after the call:</div>}
              <DifferenceList differences={block.differences} onEntry={onEntry} />
            </div>
          ),
        )}
      </div>
    </Paper>
  );
}
