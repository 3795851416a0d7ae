import type { Cause, FoundCause } from '../explain/cause.ts';
import type { Entry } from '../record/entry.ts';
import { printDifference } from './difference-words.ts';
import { count, named, noneOf } from './words.ts';

/** How many differences the sentence tells before the rest is counted. */
const differencesTold = 2;

/** A cause with its sentence. */
export function causeOf(found: FoundCause): Cause {
  const { alteration, entries, between, explains } = found;
  return {
    alteration,
    message: messageOf(found),
    culprits: alteration === 'tail' ? [] : entries.map(({ id }) => id),
    ...(between === undefined ? {} : { between: [between[0]?.id, between[1]?.id] as const }),
    explains,
  };
}

function messageOf(found: FoundCause): string {
  const { alteration, entries, claimed = 'a call', member = '', differences, between } = found;
  const [first, another] = entries;
  const who = first === undefined ? 'an entry' : oneOf(entries);
  switch (alteration) {
    case 'drop':
    case 'repeat':
      return `${who} is one too many`;
    case 'argument':
    case 'outcome': {
      const told = differences.slice(0, differencesTold).map(printDifference);
      const rest = differences.length - told.length;
      return `${who}: ${[...told, ...(rest > 0 ? [`${rest} more`] : [])].join('; ')}`;
    }
    case 'member':
      return `${who} was called, and ${member} is claimed with these arguments`;
    case 'insert':
      return `${claimed} is missing${place(between)}`;
    case 'move':
      if (another !== undefined && first !== undefined)
        return `the order of ${named(first)} and ${named(another)}`;
      return `${who} came at the wrong place; it belongs${place(between)}`;
    case 'tail':
      if (found.uncalled !== undefined && found.uncalled.length > 0)
        return noneCalled(found.uncalled);
      return first === undefined ? 'nothing was called' : `nothing came after ${named(first)}`;
  }
}

function noneCalled(labels: readonly string[]): string {
  const [one, other] = labels;
  return other === undefined
    ? `${one} was never called`
    : `${noneOf(labels, membersTold)} was ever called`;
}

const membersTold = 4;

/** `#4 dome.open (night.ts:3)`; of several that are equal, `one of #4, #5 dome.open (night.ts:3)`. */
function oneOf(entries: readonly Entry[]): string {
  const [first, ...others] = entries;
  if (first === undefined) return '';
  if (others.length === 0) return named(first);
  const ids = entries.slice(0, entriesTold).map(({ id }) => `#${id}`);
  const left = entries.length - ids.length;
  const { id, ...rest } = first;
  const label = named({ id, ...rest }).slice(`#${id} `.length);
  return `one of ${ids.join(', ')}${left > 0 ? ` and ${left} more` : ''} ${label}`;
}

const entriesTold = 6;

function place(between: FoundCause['between']): string {
  const [after, before] = between ?? [];
  if (after !== undefined && before !== undefined)
    return ` between ${named(after)} and ${named(before)}`;
  if (after !== undefined) return ` after ${named(after)}`;
  return before === undefined ? '' : ` before ${named(before)}`;
}

/** What the first line says if claims fail for one cause: `5 of 15 claims fail for one cause: …`. */
export function causeLine({ message, explains }: Cause, claims: number): string {
  const failed = explains.length;
  const of = claims > failed ? `${failed} of ${count(claims, 'claim')}` : `all ${claims} claims`;
  return `${of} fail for one cause: ${message}`;
}
