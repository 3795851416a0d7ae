import { type Claim, ClaimError, check, either, inAnyOrder, inTurn, loop, type StepLike, unbroken } from 'ekkon';

/** A step expression over numbered leaves, as brute force reads it. */
export type Tree =
  | { readonly kind: 'leaf'; readonly leaf: number }
  | { readonly kind: 'then' | 'together' | 'either' | 'unbroken'; readonly parts: readonly Tree[] }
  | { readonly kind: 'loop'; readonly part: Tree; readonly least: number; readonly most: number };

/** Every sequence of leaves that a tree allows, up to a length, one by one. */
export function wordsOf(tree: Tree, longest: number): ReadonlySet<string> {
  switch (tree.kind) {
    case 'leaf':
      return new Set(longest > 0 ? [tree.leaf.toString(36)] : []);
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
export const stepOf = (tree: Tree, patterns: readonly StepLike[]): StepLike => {
  switch (tree.kind) {
    case 'leaf':
      return patterns[tree.leaf] as StepLike;
    case 'loop':
      return loop(`${tree.least}..${tree.most}`, stepOf(tree.part, patterns));
    default: {
      const parts = tree.parts.map((part) => stepOf(part, patterns));
      return (words.get(tree.kind) as typeof inTurn)(...parts);
    }
  }
};

export const leavesIn = (tree: Tree): readonly number[] =>
  tree.kind === 'leaf' ? [tree.leaf] : tree.kind === 'loop' ? leavesIn(tree.part) : tree.parts.flatMap(leavesIn);

/** The tree with a number of its own for each step, those of each turn of a loop too; and what each is a step of. */
export function numbered(of: Tree): { readonly steps: Tree; readonly kinds: readonly number[] } {
  const kinds: number[] = [];
  const number = (each: Tree): Tree => {
    switch (each.kind) {
      case 'leaf':
        return { kind: 'leaf', leaf: kinds.push(each.leaf) - 1 };
      case 'loop': {
        const turns = Array.from({ length: each.most }, (_, turn) => ({ turn, part: number(each.part) }));
        return turns.reduceRight<Tree>(
          (rest, { turn, part }) => ({
            kind: 'loop',
            part: { kind: 'then', parts: [part, rest] },
            least: turn < each.least ? 1 : 0,
            most: 1,
          }),
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
export function mayPrecede(within: Tree, one: number, other: number): boolean {
  if (within.kind === 'leaf') return false;
  if (within.kind === 'loop') return mayPrecede(within.part, one, other);
  const [first, second] = [one, other].map((step) => within.parts.findIndex((part) => leavesIn(part).includes(step))) as [number, number];
  if (first === second) return first >= 0 && mayPrecede(within.parts[first] as Tree, one, other);
  return within.kind === 'together' || (within.kind !== 'either' && first < second);
}

/** Whether a claim holds; what else goes wrong is thrown. */
export const holds = (claim: Claim | readonly Claim[]) => {
  try {
    check(claim as never);
    return true;
  } catch (error) {
    if (error instanceof ClaimError) return false;
    throw error;
  }
};
