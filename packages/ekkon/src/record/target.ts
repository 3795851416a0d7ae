import { escapeControls } from '../value/escape.ts';
import type { Journal } from './journal.ts';

/** The target of recorded calls: a member of a double, or a double that is a function. One object each. */
export interface Target {
  /** From 0, in the order in which a ledger came to know them. */
  readonly number: number;
  /** As reports print it: `dome.open`. No two of a ledger share one. */
  readonly label: string;
  /** The double's name, which no other double of the ledger has. */
  readonly double: string;
  /** The path from the double to the member; empty for a double that is a function. */
  readonly keys: readonly PropertyKey[];
  /** The label's rest behind the double's name: `open`, `view.use`, `[Symbol.iterator]`; `''` for a function. */
  readonly member: string;
  /** When its ledger was opened, in milliseconds since the epoch. */
  readonly openedAt: number;
}

/** The targets of a ledger, found by the double's name and the keys from there. */
export interface Targets {
  readonly all: Target[];
  readonly roots: Map<string, Node>;
  readonly labels: Set<string>;
}

interface Node {
  target: Target | undefined;
  readonly below: Map<PropertyKey, Node>;
}

export function noTargets(): Targets {
  return { all: [], roots: new Map(), labels: new Set() };
}

/** The target that a double's member is, the same each time. */
export function targetAt(journal: Journal, double: string, keys: readonly PropertyKey[]): Target {
  const node = nodeAt(journal.targets, double, keys);
  node.target ??= makeTarget(journal, double, keys);
  return node.target;
}

/** A target of its own for a member, though there may be one already: a member replaced twice is two. */
export function newTarget(journal: Journal, double: string, keys: readonly PropertyKey[]): Target {
  const node = nodeAt(journal.targets, double, keys);
  node.target = makeTarget(journal, double, keys);
  return node.target;
}

/** The target of a label that was written by another ledger: found by it, or made with it. */
export function targetCalled(
  journal: Journal,
  label: string,
  double: string,
  keys: readonly PropertyKey[],
): Target {
  const { all, labels } = journal.targets;
  if (labels.has(label)) {
    const known = all.find((target) => target.label === label);
    if (known !== undefined) return known;
  }
  const node = nodeAt(journal.targets, double, keys);
  const made = makeTarget(journal, double, keys, label);
  node.target ??= made;
  return made;
}

function nodeAt({ roots }: Targets, double: string, keys: readonly PropertyKey[]): Node {
  let node = childAt(roots, double);
  for (const key of keys) node = childAt(node.below, key);
  return node;
}

function childAt<K>(nodes: Map<K, Node>, key: K): Node {
  const known = nodes.get(key) ?? { target: undefined, below: new Map() };
  nodes.set(key, known);
  return known;
}

function makeTarget(
  { targets, openedAt }: Journal,
  double: string,
  keys: readonly PropertyKey[],
  given?: string,
): Target {
  const { all, labels } = targets;
  const member = escapeControls(memberName(keys));
  const label = given ?? unusedLabel(labels, labelOf(escapeControls(double), keys, member));
  labels.add(label);
  const target: Target = { number: all.length, label, double, keys, member, openedAt };
  all.push(target);
  return target;
}

/** Two symbols may look alike: the second one is told apart by a number. */
function unusedLabel(labels: ReadonlySet<string>, label: string): string {
  let unused = label;
  for (let number = 2; labels.has(unused); number++) unused = `${label}~${number}`;
  return unused;
}

function memberName(keys: readonly PropertyKey[]): string {
  return keys
    .map((key, at) => {
      if (typeof key === 'symbol') return `[${key.description ?? 'symbol'}]`;
      return at === 0 ? String(key) : `.${String(key)}`;
    })
    .join('');
}

function labelOf(double: string, [first]: readonly PropertyKey[], member: string): string {
  if (first === undefined) return double;
  return typeof first === 'symbol' ? `${double}${member}` : `${double}.${member}`;
}
