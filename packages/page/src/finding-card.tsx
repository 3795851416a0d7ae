import type { ToldBlock, ToldFinding } from '#core/report/told.ts';
import { DifferenceList } from './difference-list.tsx';
import { LinkedText, ToldLineView } from './told-line.tsx';

interface Props {
  readonly finding: ToldFinding;
  readonly isChosen: boolean;
  /** Moves the lanes to the culprit. */
  readonly onChoose: () => void;
  readonly onEntry: (id: number) => void;
}

/** One reason why a claim does not hold: everything that the text report says of it. */
export function FindingCard({ finding, isChosen, onChoose, onEntry }: Props) {
  const { code, claim, message, blocks } = finding;
  return (
    <li className={isChosen ? 'finding chosen' : 'finding'} data-code={code}>
      <p className="message">
        <LinkedText part={{ text: message }} onEntry={onEntry} />
      </p>
      <button
        type="button"
        className="finding-head"
        aria-pressed={isChosen}
        title={isChosen ? 'It is shown in the lanes' : 'Show it in the lanes'}
        onClick={onChoose}
      >
        <code className="claim">{claim}</code>
      </button>
      <div className="blocks">
        {inRuns(blocks).map((run, at) =>
          run.length > linesMost ? (
            <div key={at}>
              <Blocks blocks={run.slice(0, linesShown)} onEntry={onEntry} />
              <details className="more">
                <summary>{run.length - linesShown} more</summary>
                <Blocks blocks={run.slice(linesShown)} onEntry={onEntry} />
              </details>
            </div>
          ) : (
            <Blocks key={at} blocks={run} onEntry={onEntry} />
          ),
        )}
      </div>
    </li>
  );
}

/** Calls that are listed one after the other, before the rest is folded. */
const [linesMost, linesShown] = [4, 2];

function Blocks({
  blocks,
  onEntry,
}: {
  readonly blocks: readonly ToldBlock[];
  readonly onEntry: (id: number) => void;
}) {
  return blocks.map((block, at) =>
    block.is === 'line' ? (
      <ToldLineView key={at} line={block.line} onEntry={onEntry} />
    ) : (
      <div key={at} className="tree">
        {block.is === 'changes' && <div className="faint">changed after the call:</div>}
        <DifferenceList differences={block.differences} onEntry={onEntry} />
      </div>
    ),
  );
}

/** Calls that are listed one after the other together, and everything else on its own. */
function inRuns(blocks: readonly ToldBlock[]): readonly (readonly ToldBlock[])[] {
  const runs: ToldBlock[][] = [];
  for (const [at, block] of blocks.entries()) {
    const before = blocks[at - 1];
    // A difference below belongs to the call, which is not to be folded away from it.
    const next = blocks[at + 1];
    const isAlike = isCall(block) && (next === undefined || next.is === 'line');
    if (isAlike && before !== undefined && isCall(before)) runs.at(-1)?.push(block);
    else runs.push([block]);
  }
  return runs;
}

function isCall(block: ToldBlock): boolean {
  if (block.is !== 'line') return false;
  const text = block.line.map((part) => part.text).join('');
  return /^\s*#\d+/.test(text);
}
