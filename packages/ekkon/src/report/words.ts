import type { Moment } from '../explain/finding.ts';
import { printCall } from '../notation/call.ts';
import type { Range } from '../pattern/multiplicity.ts';
import type { Site } from '../record/call-site.ts';
import type { Entry } from '../record/entry.ts';
import type { Block } from './block.ts';
import { clip } from './layout.ts';
import { printSite } from './places.ts';

/** The words for findings of one code. */
export interface Words<D> {
  /** One sentence without its full stop, which is enough on its own. */
  message(diagnosis: D): string;
  /**
   * The content of a report below the claim.
   *
   * @param width columns
   */
  blocks(diagnosis: D, width: number): readonly Block[];
  /** Two events that were claimed in this order and came in the other one. */
  order?(diagnosis: D): readonly (Moment | undefined)[];
  /** Whether it could be the reason for which a test failed, and not only come of that. Default: it is not. */
  couldExplain?(diagnosis: D): boolean;
}

/** A number with its noun: `1 entry`, `3 entries`. */
export function count(number: number, one: string, many = `${one}s`): string {
  return `${number} ${number === 1 ? one : many}`;
}

/** A place, in brackets, to be added to a call; nothing if it is unknown. */
export function placed(site: Site | undefined): string {
  const place = printSite(site);
  return place === '' ? '' : ` (${place})`;
}

/** An entry by number and member, with its line. */
export function named({ id, label, site }: Entry): string {
  return `#${id} ${label}${placed(site)}`;
}

/** Characters of a pattern that a sentence shows; the report below it has all of it. */
export const patternShown = 80;

/** A pattern as a sentence names it: `mount.park`, `a write of gauge.level with 2`; cut if it is long. */
export function patternSaid(pattern: string): string {
  return clip(pattern.replace(/^(read|write)s /, 'a $1 of '), patternShown);
}

/** How many names a list tells before the rest is counted. */
const namesListed = 5;

/** `dome.open, dome.close and alarm.sound`. */
export function listed(names: readonly string[], most = namesListed): string {
  const shown = names.slice(0, most);
  const left = names.length - shown.length;
  if (left > 0) return `${shown.join(', ')} and ${left} more`;
  return shown.length < 2 ? shown.join('') : `${shown.slice(0, -1).join(', ')} and ${shown.at(-1)}`;
}

const ordinals = ['first', 'second', 'third', 'fourth', 'fifth', 'sixth'];

/** A place in a row in words, from 1. */
export function ordinal(place: number): string {
  return ordinals[place - 1] ?? `${place}th`;
}

/** Added before a number of entries if there may be more of them. */
export function leastOf({ isPart }: { readonly isPart?: boolean }): string {
  return isPart === true ? 'at least ' : '';
}

/** How often, in words: `never`, `once`, `twice`, `3 times`. */
export function timesOf(number: number): string {
  return ['never', 'once', 'twice'][number] ?? `${number} times`;
}

/** How often something is expected: `once`, `2 to 4 times`, `at least once`. */
export function timesIn({ least, most }: Range): string {
  if (least === most) return timesOf(least);
  if (most === Number.POSITIVE_INFINITY) return `at least ${timesOf(least)}`;
  return least === 0 ? `at most ${timesOf(most)}` : `${least} to ${most} times`;
}

/** Characters of a call's arguments that a sentence shows. */
const argumentsShown = 40;

/** An entry with its arguments, if they are short, and its line: for a call that is wrong as a whole. */
export function namedWhole(entry: Entry): string {
  const { id, label, kind, site } = entry;
  const whole = printCall(entry);
  const fits = kind === 'call' && whole.length <= label.length + argumentsShown;
  return `#${id} ${fits ? whole : label}${placed(site)}`;
}

/** Milliseconds as one reads them. */
export function printTime(ms: number): string {
  return ms < 10_000 ? `${Math.round(ms)} ms` : `${(ms / 1_000).toFixed(1)} s`;
}

/** For findings that could always be the reason why a test failed. */
export const always = (): boolean => true;

/** `neither dome.close nor alarm.sound`; of more than two, `none of dome.close, alarm.sound, mount.park`. */
export function noneOf(names: readonly string[]): string {
  return names.length === 2 ? `neither ${names.join(' nor ')}` : `none of ${names.join(', ')}`;
}
