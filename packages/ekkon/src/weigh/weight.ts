import type { RecordAlteration } from '../alter/alterations.ts';
import type { Alteration } from '../explain/cause.ts';
import { printPath } from '../notation/value.ts';
import { entryData } from '../record/entry-data.ts';
import { drawLine, leftOut } from '../report/block.ts';
import { clip, margin } from '../report/layout.ts';
import { type Paint, unpainted } from '../report/paint.ts';
import { count, named } from '../report/words.ts';
import { inQuotes } from '../value/escape.ts';
import { printsAs } from '../value/prints-as.ts';
import type { FoundTight, FoundWeight } from './weigh-record.ts';

/** An alteration of a record that none of its claims notices. */
export interface Unnoticed {
  readonly alteration: Alteration;
  /** The id of the entry that is altered. */
  readonly entry: number;
  readonly message: string;
  /** Where in the arguments a value is replaced, as it prints; empty if none is. */
  readonly path: string;
  /** A claim that would notice it, in the notation; empty if none is known. */
  readonly claim: string;
  /** That claim as code for a test. */
  readonly code: string;
}

/** How much of a record its claims would notice. */
export interface Weight {
  /** Questions: a member, a kind of alteration, an argument's path. */
  readonly questions: number;
  /** How many of them are noticed, whichever entry is altered. */
  readonly noticed: number;
  readonly unnoticed: readonly Unnoticed[];
  /** Claims that fail if two calls change places, although nothing in the record depends on their order. */
  readonly tooTight: readonly { readonly claim: string; readonly message: string }[];
}

/** The weight of a record, in words. */
export function makeWeight({ questions, noticed, unnoticed, tooTight }: FoundWeight): Weight {
  return {
    questions,
    noticed,
    unnoticed: unnoticed.map(({ altered, proposal, alike }) => ({
      alteration: altered.alteration,
      entry: altered.entry.id,
      ...toldOf(altered, alike),
      claim: proposal?.text ?? '',
      code: proposal?.code ?? '',
    })),
    tooTight: tooTight.map((found) => ({ claim: found.claim[printsAs], message: whyTight(found) })),
  };
}

function whyTight({ one, other, why }: FoundTight): string {
  const [first, second] = [named(entryData(one)), named(entryData(other))];
  const reason =
    why === 'overlap'
      ? 'they overlap and neither was made in the other'
      : `nothing that #${one.id} gave back was given to #${other.id}. If the order matters all the same, keep the claim`;
  return `it fails if ${first} and ${second} change places, though ${reason}`;
}

/** Per cent of the questions that are noticed; 100 if there is none. */
export function percentOf({ questions, noticed }: Pick<Weight, 'questions' | 'noticed'>): number {
  return questions === 0 ? 100 : Math.floor((100 * noticed) / questions);
}

function toldOf(altered: RecordAlteration, alike: number): Pick<Unnoticed, 'path' | 'message'> {
  const path = altered.alteration === 'argument' ? printPath(altered.path) : '';
  const more = alike > 0 ? ` (and ${alike} more like it)` : '';
  return { path, message: `${named(entryData(altered.entry))} is ${doneTo(altered, path)}${more}` };
}

/** The change of an entry: `left out`, `given another [0].seconds`. */
function doneTo({ alteration, waitedFor }: RecordAlteration, path: string): string {
  if (alteration === 'argument') return `given another ${path}`;
  if (alteration !== 'move') return words[alteration];
  const before = waitedFor === undefined ? 'what it waited for' : named(entryData(waitedFor));
  return `made before ${before} has settled`;
}

const words = {
  drop: 'left out',
  repeat: 'made twice',
  outcome: 'ended with something else',
} as const;

/** The unnoticed changes, entry by entry: the first in a sentence, the others in one below it. */
export function toldByEntry(unnoticed: readonly Unnoticed[]): readonly string[] {
  const byEntry = new Map<number, Unnoticed[]>();
  for (const each of unnoticed) byEntry.set(each.entry, [...(byEntry.get(each.entry) ?? []), each]);
  return [...byEntry.values()].flatMap(([first, ...others]) => {
    const told = others.flatMap(({ alteration, message }) => {
      if (alteration === 'argument') return [];
      return [alteration === 'move' ? message : words[alteration as keyof typeof words]];
    });
    const paths = others.flatMap(({ path }) => (path === '' ? [] : [path]));
    if (paths.length > 0) told.push(`given another ${paths.join(', ')}`);
    return [first?.message ?? '', ...(told.length === 0 ? [] : [`or ${told.join(', or ')}`])];
  });
}

/** Unnoticed alterations by the claim that would notice them. */
export function byProposal(unnoticed: readonly Unnoticed[]): ReadonlyMap<string, Unnoticed[]> {
  const groups = new Map<string, Unnoticed[]>();
  for (const each of unnoticed) groups.set(each.claim, [...(groups.get(each.claim) ?? []), each]);
  return groups;
}

/** The result of a weight, in one line. */
export function weightHeading({ questions, noticed }: Weight): string {
  return `${noticed} of ${count(questions, 'question')} noticed (${percentOf({ questions, noticed })} %)`;
}

/** Printed if no claim is proposed. */
export const noClaim =
  'no claim to add: the test supplied the reply, so claim how it is used; or no known claim would notice the change';

/** How many claims to add a report lists before the rest is counted. */
const claimsListed = 10;

/** The text report of a weight: the unnoticed changes, each with the claim to add. */
export function weightText(
  weight: Weight,
  ledger: string,
  options: { readonly width?: number; readonly paint?: Paint } = {},
): string {
  const { width = 100, paint = unpainted } = options;
  const { unnoticed, tooTight } = weight;
  const whose = paint('faint', ` · ledger ${inQuotes(ledger)}`);
  const groups = byProposal(unnoticed);
  const blocks = [...groups].slice(0, claimsListed).map(([claim, its]) => {
    const code = its[0]?.code ?? '';
    const add =
      claim === ''
        ? [paint('faint', noClaim)]
        : [`add  ${paint('claim', claim)}`, `${margin} ${paint('faint', code)}`];
    const lines = toldByEntry(its).map((line) => `${margin}${clip(line, width - margin.length)}`);
    return [...add, ...lines].join('\n');
  });
  const rest = [...groups.values()].slice(claimsListed).flat();
  const left = leftOut(rest.length, ['alteration', 'alterations']).map((line) =>
    drawLine(line, paint),
  );
  const tight = tooTight.map(({ claim, message }) =>
    [paint('claim', clip(claim, width)), `${margin}${message}`].join('\n'),
  );
  return [
    `${paint(unnoticed.length === 0 ? 'good' : 'heading', weightHeading(weight))}${whose}`,
    ...(blocks.length === 0 ? [] : ['the claims would not notice if:', ...blocks]),
    ...(left.length === 0 ? [] : [left.join('\n')]),
    ...(tight.length === 0 ? [] : ['too tight:', ...tight]),
  ].join('\n\n');
}
