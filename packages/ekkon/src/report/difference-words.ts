import type { Difference } from '../match/difference.ts';
import { className, printPath, shortValue } from '../notation/value.ts';
import { isOwn } from '../record/prints-as.ts';
import { areLongTexts } from './text-difference.ts';

/** One difference in one line: where, and what on either side. */
export function printDifference(difference: Difference): string {
  const { path, claimed, recorded } = difference;
  const from = areLongTexts(claimed, recorded) ? firstChange(claimed, String(recorded)) : 0;
  const print = (value: unknown) =>
    from > 0 ? `…${shortValue(String(value).slice(from))}` : shortValue(value);
  return `${printPath(path)} ${sides(difference, print(claimed), print(recorded)).join(', ')}`;
}

/** A little before the place where two texts part. */
function firstChange(one: string, other: string): number {
  let at = 0;
  while (at < one.length && one[at] === other[at]) at++;
  return Math.max(0, at - 12);
}

/** Where an argument reads otherwise now, what was recorded of it, and what it reads. */
export function printChange({ path, kind, claimed, recorded }: Difference): readonly string[] {
  const then = kind === 'surplus' ? 'nothing' : shortValue(claimed, 40);
  const now = kind === 'missing' ? 'nothing' : shortValue(recorded, 40);
  return [`${printPath(path)} was ${then} when recorded`, `is ${now} now`];
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
      return [`claimed ${claimed}`, `recorded ${recorded}${remarkOn(difference)}`];
    case 'missing':
      return [`claimed ${claimed}`, 'recorded nothing'];
    case 'surplus':
      return ['claimed nothing', `recorded ${recorded}`];
    case 'moved':
      return [
        `${recorded} is claimed at ${printPath([difference.from ?? 0])}`,
        `recorded at ${lastOf(difference)}`,
      ];
    case 'renamed':
      return [
        `claimed as ${printPath([difference.from ?? ''])}`,
        `recorded as ${lastOf(difference)}`,
      ];
    case 'opaque':
      return [`claimed ${claimed}`, `recorded ${recorded}`];
  }
}

function lastOf({ path }: Difference): string {
  return printPath(path.slice(-1));
}

/** What is not to be seen from the two sides alone. */
function remarkOn({ kind, why, claimed, recorded }: Difference): string {
  if (why === 'another') return ', another one';
  const isNamesake = kind === 'type' && why === undefined && areInstances(claimed, recorded);
  if (isNamesake && classOf(claimed) === classOf(recorded)) return ', of another class';
  if (why === 'identity') return ', equal to it but another object';
  if (why === 'class') return ', the same fields but another class';
  return recorded instanceof Promise ? ', not awaited' : '';
}

function printThrown(reason: unknown): string {
  return shortValue(reason, 120).replace(/^new /, '');
}

/** Where and why it is not known whether a value fits: `[0] it threw Error("no such star") instead of …`. */
export function printUndecided(difference: Difference): string {
  const path = printPath(difference.path);
  return `${path}${path === '' ? '' : ' '}${opaqueBecause(difference)}`;
}

/** Why it is not known whether two values are equal, and what can be done about it. */
export function opaqueBecause({ why = 'hidden', recorded, reason }: Difference): string {
  switch (why) {
    case 'hidden':
      return `${classOf(recorded)} hides its state; to look into it: openLedger({ reveals: [reveal(${classOf(recorded)}, …)] })`;
    case 'bound':
      return 'cut when it was recorded';
    case 'accessor':
      return 'an accessor, which is not run';
    case 'inherited':
      return `${printPath([String(reason)])} is an accessor of ${classOf(recorded)}, which was not run; to compare it: openLedger({ reveals: [reveal(${classOf(recorded)}, …)] }), or suchThat(…)`;
    case 'unread':
      return `${reason}; to claim it is this very one: identical(…), or suchThat(…)`;
    case 'unreadable':
      return 'could not be read';
    case 'failed':
      return `it threw ${printThrown(reason)} instead of giving true or false`;
    case 'answer':
      return `it gave ${shortValue(reason, 60)} instead of giving true or false`;
    case 'unfollowed':
      return reason === 'added'
        ? 'its promise has properties of its own, so that it is passed on untouched and not followed'
        : 'it gave back a thenable that may start when it is asked, so that it is not followed';
    case 'identity':
    case 'class':
    case 'another':
      return 'equal to it but another object';
  }
}

function areInstances(one: unknown, other: unknown): boolean {
  return [one, other].every((each) => typeof each === 'object' && each !== null && !isOwn(each));
}

function classOf(value: unknown): string {
  return (typeof value === 'object' && value !== null ? className(value) : undefined) ?? 'Type';
}
