import type { RecordAlteration } from '../alter/alterations.ts';
import type { FoundWeight } from '../alter/weigh.ts';
import type { Alteration } from '../explain/cause.ts';
import { printPath } from '../notation/value.ts';
import { entryData } from '../record/entry-data.ts';
import { printsAs } from '../record/prints-as.ts';
import { clip, type Layout, leftOut, margin } from './layout.ts';
import { type Paint, unpainted } from './paint.ts';
import { count, named } from './words.ts';

/** An alteration of a record that none of its claims notices. */
export interface Unnoticed {
  readonly alteration: Alteration;
  /** The id of the entry that is altered. */
  readonly entry: number;
  readonly message: string;
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
  /** Claims that fail if only the order of independent calls changes. */
  readonly tooTight: readonly { readonly claim: string; readonly message: string }[];
}

/** What was found of a record's weight, in words. */
export function makeWeight({ questions, noticed, unnoticed, tooTight }: FoundWeight): Weight {
  return {
    questions,
    noticed,
    unnoticed: unnoticed.map(({ altered, proposal, alike }) => ({
      alteration: altered.alteration,
      entry: altered.entry.id,
      message: `${messageOf(altered)}${alike > 0 ? ` (and ${alike} more like it)` : ''}`,
      claim: proposal?.text ?? '',
      code: proposal?.code ?? '',
    })),
    tooTight: tooTight.map(({ claim, one, other }) => ({
      claim: claim[printsAs],
      message: `it fails if ${named(entryData(one))} and ${named(entryData(other))} change places, though they overlap and neither was made in the other`,
    })),
  };
}

/** Per cent of the questions that are noticed; 100 if there is none. */
export function percentOf({ questions, noticed }: Pick<Weight, 'questions' | 'noticed'>): number {
  return questions === 0 ? 100 : Math.floor((100 * noticed) / questions);
}

function messageOf({ alteration, entry, path, waitedFor }: RecordAlteration): string {
  const who = named(entryData(entry));
  switch (alteration) {
    case 'drop':
      return `${who} is left out`;
    case 'repeat':
      return `${who} is made twice`;
    case 'move':
      return `${who} is made before ${waitedFor === undefined ? 'what it waited for' : named(entryData(waitedFor))} has settled`;
    case 'argument':
      return `${who} is given another ${printPath(path)}`;
    case 'outcome':
      return `${who} ends with something else`;
  }
}

/** How many alterations a report lists before the rest is counted. */
const listedMost = 24;

/** The text report of a weight: what nobody would notice, each with the claim to add. */
export function weightText(
  weight: Weight,
  ledger: string,
  options: { readonly width?: number; readonly paint?: Paint } = {},
): string {
  const layout: Layout = { width: options.width ?? 100, paint: options.paint ?? unpainted };
  const { paint, width } = layout;
  const { questions, noticed, unnoticed, tooTight } = weight;
  const whose = paint('faint', ` · ledger "${ledger}"`);
  const heading = `${noticed} of ${count(questions, 'question')} noticed (${percentOf(weight)} %)`;
  const groups = new Map<string, Unnoticed[]>();
  for (const each of unnoticed) groups.set(each.claim, [...(groups.get(each.claim) ?? []), each]);
  const blocks: string[] = [];
  let listed = 0;
  for (const [claim, its] of groups) {
    const shown = its.slice(0, Math.max(0, listedMost - listed));
    if (shown.length === 0) break;
    listed += shown.length;
    const add =
      claim === ''
        ? paint('faint', 'no claim is known that would notice it')
        : `add  ${paint('claim', claim)}`;
    const code = its[0]?.code ?? '';
    blocks.push(
      [
        clip(add, claim === '' ? width * 2 : width * 4),
        ...(code === '' ? [] : [`${margin} ${paint('faint', code)}`]),
        ...shown.map(({ message }) => `${margin}${clip(message, width - margin.length)}`),
      ].join('\n'),
    );
  }
  const left = leftOut(unnoticed.length - listed, ['alteration', 'alterations'], layout);
  const tight = tooTight.map(({ claim, message }) =>
    [paint('claim', clip(claim, width)), `${margin}${message}`].join('\n'),
  );
  return [
    `${paint(unnoticed.length === 0 ? 'good' : 'heading', heading)}${whose}`,
    ...(blocks.length === 0 ? [] : ['nobody would notice, if', ...blocks]),
    ...(left.length === 0 ? [] : [left.join('\n')]),
    ...(tight.length === 0 ? [] : ['too tight:', ...tight]),
  ].join('\n\n');
}
