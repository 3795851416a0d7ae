import { matchingOf } from '../match/matcher.ts';
import { printPath, shortValue } from '../notation/value.ts';
import { className } from '../value/class-name.ts';
import type { Difference } from '../value/difference.ts';
import { isOwn } from '../value/prints-as.ts';
import { descriptorOf, memberNames } from '../value/prototype-chain.ts';
import { isSnapshot } from '../value/snapshot.ts';
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
export function opaqueBecause({ why = 'hidden', claimed, recorded, reason }: Difference): string {
  switch (why) {
    case 'hidden':
      return `${classOf(recorded)} hides its state; ${wayInto(recorded)}`;
    case 'bound':
      return 'cut when it was recorded';
    case 'inner':
      return 'part of what makes an instance work, which is not recorded; to claim it is this very one: identical(…)';
    case 'accessor':
      return 'an accessor, which is not run';
    case 'inherited': {
      const [type, key] = [classOf(recorded), String(reason)];
      return `${printPath([key])} is an accessor of ${type}, which was not run; to compare it: openLedger({ reveals: [reveal(${type}, ({ ${key} }) => ({ ${key} }))] }), or suchThat(({ ${key} }: ${type}) => ${key} === ${shortValue(claimed, 40)})`;
    }
    case 'unread':
      return `${reason}; to claim it is this very one: identical(…), or suchThat(…)`;
    case 'body':
      return String(reason);
    case 'unreadable':
      return 'could not be read';
    case 'failed':
      return `it threw ${printThrown(reason)} instead of returning true or false`;
    case 'answer':
      return `it returned ${shortValue(reason, 60)} instead of ${matchingOf(claimed)?.family === 'ofSchema' ? '{ value } or { issues }' : 'true or false'}`;
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

/** What to write to look into instances of a class: by what its members give, if that can be told. */
function wayInto(value: unknown): string {
  const type = classOf(value);
  const instance = type.replace(/^[A-Z]+(?=[A-Z][a-z]|$)|^[A-Z]/, (start) => start.toLowerCase());
  const object = behind(value);
  const [shown] = object === undefined ? [] : readableMembers(object);
  return shown === undefined
    ? `to claim it is this very one: identical(${instance})`
    : `to look into it: openLedger({ reveals: [reveal(${type}, (${instance}) => ${instance}${shown})] })`;
}

/** The object that a recorded value stands for. */
function behind(value: unknown): object | undefined {
  if (isSnapshot(value)) return value.of;
  return typeof value === 'object' && value !== null ? value : undefined;
}

/** How the members of an instance's class are written that give something without being told anything. */
function readableMembers(value: object): readonly string[] {
  const found = memberNames(value).flatMap((name) => {
    const { get, value: member } = descriptorOf(value, name) ?? {};
    if (get !== undefined) return [{ rank: 0, written: printPath([name]) }];
    const isRead =
      typeof member === 'function' && member.length === 0 && !Object.hasOwn(value, name);
    return isRead ? [{ rank: 1, written: `${printPath([name])}()` }] : [];
  });
  return found.sort((one, other) => one.rank - other.rank).map(({ written }) => written);
}

function areInstances(one: unknown, other: unknown): boolean {
  return [one, other].every((each) => typeof each === 'object' && each !== null && !isOwn(each));
}

function classOf(value: unknown): string {
  const object = behind(value);
  return (object === undefined ? undefined : className(object)) ?? 'Type';
}
