import type { ToldDifference } from '#core/report/told.ts';
import { type DifferenceNode, differenceTree } from './difference-tree.ts';
import { ToldLineView } from './told-line.tsx';

interface Props {
  readonly differences: readonly ToldDifference[];
  readonly onEntry: (id: number) => void;
}

/** Differences as a tree by their paths. */
export function DifferenceList({ differences, onEntry }: Props) {
  return <Nodes nodes={differenceTree(differences)} onEntry={onEntry} />;
}

function Nodes({
  nodes,
  onEntry,
}: {
  readonly nodes: readonly DifferenceNode[];
  readonly onEntry: (id: number) => void;
}) {
  return (
    <ul className="differences">
      {nodes.map(({ path, says, below }) => (
        <li key={path}>
          {path !== '' && <code className="path">{path}</code>}
          {says.map((line, at) => (
            <ToldLineView key={at} line={line} onEntry={onEntry} />
          ))}
          {below.length > 0 && <Nodes nodes={below} onEntry={onEntry} />}
        </li>
      ))}
    </ul>
  );
}
