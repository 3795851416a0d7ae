import type { Cause, FoundCause } from '../explain/cause.ts';
import type { Diagnosis } from '../explain/finding.ts';
import type { Entry } from '../record/entry.ts';
import { escapeControls } from '../value/escape.ts';
import { differencesInShort } from './difference-words.ts';
import { messageOf } from './findings.ts';
import { countOf, kindWords } from './kind-words.ts';
import { clip } from './layout.ts';
import { printSite } from './places.ts';
import { count, listed, named, namedWhole, ordinal, patternSaid, placed } from './words.ts';

/**
 * A cause with its sentence.
 *
 * @param found all findings, of which it explains some
 */
export function causeOf(cause: FoundCause, found: readonly Diagnosis[]): Cause {
  const { alteration, entries, between, explains } = cause;
  const [only, another] = explains.flatMap((at) => found[at] ?? []);
  const said = another === undefined && only !== undefined && saysTheSame(cause, only);
  const altered = entries.map(({ id }) => id);
  return {
    alteration,
    message: said ? messageOf(only) : wordsFor(cause),
    culprits:
      alteration === 'tail' ? [] : said && altered.length > 0 ? only.culprits.slice(0, 1) : altered,
    ...(between === undefined ? {} : { between: [between[0]?.id, between[1]?.id] as const }),
    explains,
  };
}

/** Whether a finding names the same culprit as its cause: its own sentence says more then. */
function saysTheSame({ alteration, entries }: FoundCause, { code, culprits }: Diagnosis): boolean {
  switch (alteration) {
    case 'insert':
    case 'tail':
      if (code === 'missingCall') return culprits.length === 0;
      return code === 'outOfOrder' || code === 'wrongItems';
    case 'move':
      return code === 'outOfOrder' || code === 'tooEarly' || code === 'inFlight';
    case 'drop':
    case 'repeat':
    case 'argument':
    case 'outcome':
    case 'member':
      return entries.some(({ id }) => culprits.includes(id));
  }
}

function wordsFor(cause: FoundCause): string {
  const { alteration, entries, claimed = 'a call', member = '', differences, between } = cause;
  const [first, another] = entries;
  const who = first === undefined ? 'an entry' : oneOf(entries);
  switch (alteration) {
    case 'drop':
    case 'repeat':
      if (labelsIn(entries).length > 1)
        return `${span(entries)} are one turn too many: ${listed(labelsIn(entries))}`;
      if (cause.together === true && first !== undefined)
        return `${namedWhole(first)} is unexpected, and so ${entries.length === 2 ? 'is' : 'are'} ${later(entries)} of it`;
      return `${entries.length === 1 && first !== undefined ? namedWhole(first) : who} is unexpected`;
    case 'argument':
    case 'outcome':
      return `${who}: ${differencesInShort(differences)}`;
    case 'member':
      // A pattern that ends with the name says nothing of the arguments.
      return `${who} was called, expected ${member}${claimed.endsWith(member) ? '' : ' with these arguments'}`;
    case 'insert':
      return cause.missing === undefined
        ? `${patternSaid(claimed)} is missing${place(between)}`
        : severalMissing(cause, cause.missing);
    case 'move':
      if (another !== undefined && first !== undefined)
        return `${named(first)} and ${named(another)} came in the wrong order`;
      return `${who} came at the wrong place: expected${place(between)}`;
    case 'tail': {
      const missing = areMissing(cause.missing ?? []);
      return first === undefined
        ? `nothing was called: ${missing}`
        : `nothing came after ${named(first)}: ${missing}`;
    }
  }
}

/** `5 later calls`: all of some entries but the first. */
function later([first, ...others]: readonly Entry[]): string {
  const noun = kindWords[first?.kind ?? 'call'].noun;
  return count(others.length, `later ${noun}`);
}

/** The sentence for several missing calls: of one turn, of one member, of one double, or at one place. */
function severalMissing(
  { turn, like, counts, member, between }: FoundCause,
  missing: readonly string[],
): string {
  if (like !== undefined)
    return `one turn like ${span(like)} is missing: ${listed(missing.map((each) => clip(each, stepShown)))}`;
  const [after, next] = between ?? [];
  if (turn !== undefined && after !== undefined) {
    const rest =
      next === undefined ? 'nothing came after it' : `it goes on with #${next.id} ${next.label}`;
    return `after ${named(after)} the ${ordinal(turn)} turn is missing: ${listed(missing)}; ${rest}`;
  }
  if (counts !== undefined) {
    const { received, kind, missing: number, patterns = [] } = counts;
    if (received === 0) return `${missing[0]} ${kindWords[kind].never}`;
    const [pattern = missing[0], another] = patterns;
    const are = number === 1 ? 'is' : 'are';
    if (another === undefined) return `${countOf(number, kind)} of ${pattern} ${are} missing`;
    return `${countOf(number, kind)} ${are} missing: ${firstOf(patterns)}`;
  }
  if (member !== undefined)
    return `nothing of ${escapeControls(member)} was called: ${areMissing(missing)}`;
  return `${areMissing(missing.map((each) => clip(each, stepShown)))}${place(between)}`;
}

/** Some patterns in words: the first two, and how many others there are. */
function firstOf(patterns: readonly string[]): string {
  const shown = patterns.slice(0, 2).map((each) => clip(each, stepShown));
  const left = patterns.length - shown.length;
  return listed(left === 0 ? shown : [...shown, `${left} more`]);
}

/** Characters of a pattern that a list of what is missing shows. */
const stepShown = 50;

/** `#9 to #13 (night.ts:18)`: two or more entries that came one after the other, with the place of the first. */
function span(entries: readonly Entry[]): string {
  const [first, last] = [entries[0] as Entry, entries.at(-1) as Entry];
  return `#${first.id} ${entries.length === 2 ? 'and' : 'to'} #${last.id}${placed(first.site)}`;
}

function labelsIn(entries: readonly Entry[]): readonly string[] {
  return [...new Set(entries.map(({ label }) => label))];
}

function areMissing(missing: readonly string[]): string {
  return `${listed(missing)} ${missing.length === 1 ? 'is' : 'are'} missing`;
}

/** `#4 dome.open (night.ts:3)`; of several that may be meant, `one of #3, #4 dome.open (night.ts:3 and faults.ts:9)`. */
function oneOf(entries: readonly Entry[]): string {
  const [first, ...others] = entries;
  if (first === undefined) return '';
  if (others.length === 0) return named(first);
  const ids = entries.slice(0, entriesTold).map(({ id }) => `#${id}`);
  const left = entries.length - ids.length;
  const places = [...new Set(entries.map(({ site }) => printSite(site)))].filter(Boolean);
  const where =
    places.length > 0 && places.length <= placesTold ? ` (${places.join(' and ')})` : '';
  return `one of ${ids.join(', ')}${left > 0 ? ` and ${left} more` : ''} ${first.label}${where}`;
}

const [entriesTold, placesTold] = [6, 2];

function place(between: FoundCause['between']): string {
  const [after, before] = between ?? [];
  if (after !== undefined && after.id === before?.id) return ` while ${named(after)} was under way`;
  if (after !== undefined && before !== undefined && after.id < before.id)
    return ` between ${named(after)} and ${named(before)}`;
  if (after !== undefined) return ` after ${named(after)}`;
  return before === undefined ? '' : ` before ${named(before)}`;
}
