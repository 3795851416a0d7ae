import { printRange } from '../claim/multiplicity.ts';
import type { Diagnosis } from '../explain/finding.ts';
import type { Difference } from '../match/difference.ts';
import { printPath, shortValue } from '../notation/value.ts';
import type { Entry } from '../record/entry.ts';
import { printSite } from './places.ts';

/** The sentence that tells a diagnosis: enough on its own to know which call was wrong, and where. */
export function messageOf(diagnosis: Diagnosis): string {
  return diagnosis.code === 'surplusCall' ? surplusMessage(diagnosis) : missingMessage(diagnosis);
}

function surplusMessage({ fitting, range, culprits }: Diagnosis): string {
  const first = fitting.find((entry) => entry.id === culprits[0]);
  const which = first === undefined ? '' : ` ${named(first)}`;
  if (range.most === 0) return `${count(fitting.length, 'call')}; the first is${which}`;
  return `${count(fitting.length, 'call')} where ${printRange(range)} claimed; one too many is${which}`;
}

function missingMessage(diagnosis: Diagnosis): string {
  const { fitting, range, nearest, elsewhere, member } = diagnosis;
  const found =
    fitting.length === 0
      ? 'no call fits'
      : `${count(fitting.length, 'call')} where ${printRange(range)} claimed`;
  const [other] = elsewhere;
  if (other !== undefined) return `${found}; the same arguments went to ${named(other)}`;
  const [near] = nearest;
  if (near !== undefined)
    return `${found}; nearest is ${named(near.entry)}: ${inShort(near.differences)}`;
  if (fitting.length > 0) return `${found}; the last is ${named(fitting[fitting.length - 1])}`;
  return `${member} was never called${insteadOf(diagnosis)}`;
}

/** How many differences the sentence tells before the rest is counted. */
const differencesTold = 2;

function inShort(differences: readonly Difference[]): string {
  const told = differences.slice(0, differencesTold).map(printDifference);
  const rest = differences.length - told.length;
  return [...told, ...(rest > 0 ? [`… ${rest} more`] : [])].join('; ');
}

function insteadOf({ instead, double }: Diagnosis): string {
  const siblings = instead.filter(({ label }) => label.startsWith(`${double}.`));
  if (siblings.length > 0) return `; of ${double} only ${tallies(siblings)}`;
  return instead.length === 0 ? '; nothing was' : `; nothing of ${double} was`;
}

/** `dome.open ×1, dome.close ×2`. */
export function tallies(
  list: readonly { readonly label: string; readonly calls: number }[],
): string {
  const shown = list.slice(0, 8).map(({ label, calls }) => `${label} ×${calls}`);
  return [...shown, ...(list.length > 8 ? [`… ${list.length - 8} more`] : [])].join(', ');
}

/** An entry by number and member, with its line. */
function named(entry: Entry | undefined): string {
  if (entry === undefined) return '';
  const site = printSite(entry.site);
  return `#${entry.id} ${entry.label}${site === '' ? '' : ` (${site})`}`;
}

/** A number with its noun: `1 entry`, `3 entries`. */
export function count(number: number, one: string, many = `${one}s`): string {
  return `${number} ${number === 1 ? one : many}`;
}

/** One difference in one line: where, and what on either side. */
export function printDifference(difference: Difference): string {
  const { path, claimed, recorded } = difference;
  return `${printPath(path)} ${sides(difference, shortValue(claimed), shortValue(recorded)).join(', ')}`;
}

/** The sides of a difference in words, given how each is printed. */
export function sides(
  difference: Difference,
  claimed: string,
  recorded: string,
): readonly string[] {
  switch (difference.kind) {
    case 'changed':
    case 'type':
      return [
        `claimed ${claimed}`,
        `recorded ${recorded}${difference.recorded instanceof Promise ? ', not awaited' : ''}`,
      ];
    case 'missing':
      return [`claimed ${claimed}`, 'recorded nothing'];
    case 'surplus':
      return ['claimed nothing', `recorded ${recorded}`];
    case 'moved':
      return [`claimed at ${printPath([difference.from ?? 0])}`, `recorded here: ${recorded}`];
    case 'renamed':
      return [`claimed as ${printPath([difference.from ?? ''])}`, 'recorded under this name'];
    case 'opaque':
      return [
        `claimed ${claimed}`,
        `recorded ${recorded}`,
        opaqueBecause[difference.why ?? 'hidden'],
      ];
  }
}

const opaqueBecause: Readonly<Record<NonNullable<Difference['why']>, string>> = {
  hidden: 'state hidden, so compared by identity',
  bound: 'cut when recorded, so it cannot be told',
  accessor: 'an accessor, which is not run, so it cannot be told',
  unreadable: 'could not be read, so it cannot be told',
};
