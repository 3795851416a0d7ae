import type { Moment } from '../explain/finding.ts';
import type { Site } from '../record/call-site.ts';
import type { Entry } from '../record/entry.ts';
import type { Layout } from './layout.ts';
import { printSite } from './places.ts';

/** The words for what is found with one code. */
export interface Words<D> {
  /** One sentence without its full stop, which is enough on its own. */
  message(diagnosis: D): string;
  /** What a report shows below the claim. */
  lines(diagnosis: D, layout: Layout): readonly string[];
  /** Two events that were claimed in this order and came in the other one. */
  order?(diagnosis: D): readonly (Moment | undefined)[];
  /** Whether it could be the reason for which a test failed, and not only come of that. Default: it is not. */
  couldExplain?(diagnosis: D): boolean;
}

/** A message as a sentence, with its full stop. */
export function sentence(message: string): string {
  return `${message}.`;
}

/** A number with its noun: `1 entry`, `3 entries`. */
export function count(number: number, one: string, many = `${one}s`): string {
  return `${number} ${number === 1 ? one : many}`;
}

/** A place, in brackets, to be put behind what was there; nothing if it is not known. */
export function placed(site: Site | undefined): string {
  const place = printSite(site);
  return place === '' ? '' : ` (${place})`;
}

/** An entry by number and member, with its line. */
export function named({ id, label, site }: Entry): string {
  return `#${id} ${label}${placed(site)}`;
}

/** Milliseconds as one reads them. */
export function printTime(ms: number): string {
  return ms < 10_000 ? `${Math.round(ms)} ms` : `${(ms / 1_000).toFixed(1)} s`;
}

/** For what could always be the reason for which a test failed. */
export const always = (): boolean => true;

/** `neither dome.close nor alarm.sound`; of more than two, `none of dome.close, alarm.sound, mount.park and 2 more`. */
export function noneOf(names: readonly string[], told = names.length): string {
  if (names.length === 2) return `neither ${names.join(' nor ')}`;
  const left = names.length - told;
  return `none of ${names.slice(0, told).join(', ')}${left > 0 ? ` and ${left} more` : ''}`;
}
