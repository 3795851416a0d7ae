import { either, inAnyOrder, inTurn, loop, type StepLike, unbroken } from 'ekkon';

/** A step expression, as brute force reads it. */
export type Tree<Leaf> =
  | { readonly kind: 'leaf'; readonly leaf: Leaf }
  | { readonly kind: 'then' | 'together' | 'either' | 'unbroken'; readonly parts: readonly Tree<Leaf>[] }
  | { readonly kind: 'loop'; readonly part: Tree<Leaf>; readonly least: number; readonly most: number };

/** Every sequence of numbered leaves that a tree allows, up to a length: a text with one character for each. */
export function wordsOf(tree: Tree<number>, longest: number): ReadonlySet<string> {
  switch (tree.kind) {
    case 'leaf':
      return new Set(longest > 0 ? [String.fromCharCode(tree.leaf)] : []);
    case 'either':
      return new Set(tree.parts.flatMap((part) => [...wordsOf(part, longest)]));
    case 'then':
    case 'unbroken':
      return tree.parts.reduce((words, part) => combine(words, wordsOf(part, longest), longest, (one, other) => [one + other]), new Set(['']));
    case 'together':
      return tree.parts.reduce((words, part) => combine(words, wordsOf(part, longest), longest, interleavings), new Set(['']));
    case 'loop': {
      const found = new Set<string>();
      let words: ReadonlySet<string> = new Set(['']);
      for (let count = 0; count <= tree.most; count++) {
        if (count >= tree.least) for (const word of words) found.add(word);
        words = combine(words, wordsOf(tree.part, longest), longest, (one, other) => [one + other]);
      }
      return found;
    }
  }
}

/** The numbers of the leaves in a word. */
export const leavesOf = (word: string) => Array.from(word, (leaf) => leaf.charCodeAt(0));

function combine(
  ones: ReadonlySet<string>,
  others: ReadonlySet<string>,
  longest: number,
  join: (one: string, other: string) => string[],
): Set<string> {
  return new Set([...ones].flatMap((one) => [...others].flatMap((other) => (one.length + other.length <= longest ? join(one, other) : []))));
}

function interleavings(one: string, other: string): string[] {
  if (one === '' || other === '') return [one + other];
  return [...interleavings(one.slice(1), other).map((rest) => one[0] + rest), ...interleavings(one, other.slice(1)).map((rest) => other[0] + rest)];
}

const words = new Map([
  ['then', inTurn],
  ['together', inAnyOrder],
  ['either', either],
  ['unbroken', unbroken],
]);

/** The step that a tree tells of, given the pattern of each leaf. */
export function stepOf<Leaf>(tree: Tree<Leaf>, patternOf: (leaf: Leaf) => StepLike): StepLike {
  switch (tree.kind) {
    case 'leaf':
      return patternOf(tree.leaf);
    case 'loop':
      return loop(`${tree.least}..${tree.most}`, stepOf(tree.part, patternOf));
    default:
      return (words.get(tree.kind) as typeof inTurn)(...tree.parts.map((part) => stepOf(part, patternOf)));
  }
}

export const leavesIn = <Leaf>(tree: Tree<Leaf>): readonly Leaf[] =>
  tree.kind === 'leaf' ? [tree.leaf] : tree.kind === 'loop' ? leavesIn(tree.part) : tree.parts.flatMap(leavesIn);

/** Every unbroken step in a tree. */
export function unbrokenIn<Leaf>(tree: Tree<Leaf>): readonly Tree<Leaf>[] {
  if (tree.kind === 'leaf') return [];
  const inner = (tree.kind === 'loop' ? [tree.part] : tree.parts).flatMap(unbrokenIn);
  return tree.kind === 'unbroken' ? [tree, ...inner] : inner;
}

/** The tree with a number of its own for each step, those of each turn of a loop too; and what each is a step of. */
export function numbered<Leaf>(of: Tree<Leaf>): { readonly steps: Tree<number>; readonly kinds: readonly Leaf[] } {
  const kinds: Leaf[] = [];
  const number = (each: Tree<Leaf>): Tree<number> => {
    switch (each.kind) {
      case 'leaf':
        return { kind: 'leaf', leaf: kinds.push(each.leaf) - 1 };
      case 'loop': {
        const turns = Array.from({ length: each.most }, (_, turn) => ({ turn, part: number(each.part) }));
        return turns.reduceRight<Tree<number>>(
          (rest, { turn, part }) => ({ kind: 'loop', part: { kind: 'then', parts: [part, rest] }, least: turn < each.least ? 1 : 0, most: 1 }),
          { kind: 'then', parts: [] },
        );
      }
      default:
        return { ...each, parts: each.parts.map(number) };
    }
  };
  return { steps: number(of), kinds };
}

/** Whether one step may come before another: in the innermost step that holds both, its part comes first, or in any order. */
export function mayPrecede(within: Tree<number>, one: number, other: number): boolean {
  if (within.kind === 'leaf') return false;
  if (within.kind === 'loop') return mayPrecede(within.part, one, other);
  const [first, second] = [one, other].map((step) => within.parts.findIndex((part) => leavesIn(part).includes(step))) as [number, number];
  if (first === second) return first >= 0 && mayPrecede(within.parts[first] as Tree<number>, one, other);
  return within.kind === 'together' || (within.kind !== 'either' && first < second);
}
