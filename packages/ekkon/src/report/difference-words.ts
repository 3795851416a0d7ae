import { matchingOf } from '../match/matcher.ts';
import { printPath, shortValue } from '../notation/value.ts';
import { className } from '../value/class-name.ts';
import type { Difference } from '../value/difference.ts';
import { hiddenDifference } from '../value/look-alike.ts';
import { isOwn } from '../value/prints-as.ts';
import { descriptorOf, memberNames } from '../value/prototype-chain.ts';
import { isSnapshot } from '../value/snapshot.ts';
import { type Line, piece, textOf } from './block.ts';

/** Characters of a value that a sentence shows. */
const valueShown = 40;

/** One difference in one line: the path and both sides. */
export function printDifference(difference: Difference): string {
  const [expected, received] = bothShown(difference, valueShown);
  return `${printPath(difference.path)} ${sides(difference, expected, received).map(textOf).join(', ')}`;
}

/**
 * Both values of a difference, in so many characters each: texts that are too long to be shown whole from a little
 * before the place where they part.
 */
export function bothShown(
  { expected, received }: Difference,
  room: number,
): readonly [expected: string, received: string] {
  const from = changedFrom(expected, received, room);
  const print = (value: unknown) =>
    from > 0 ? `…${shortValue(String(value).slice(from), room)}` : shortValue(value, room);
  return [print(expected), print(received)];
}

/** How many differences a sentence tells before the rest is counted. */
const differencesTold = 2;

/** Some differences in one line, the first of them in words. */
export function differencesInShort(differences: readonly Difference[]): string {
  const swapped = swappedArguments(differences);
  const left = swapped === undefined ? differences : differences.slice(2);
  const first = swapped === undefined ? [] : [swapped];
  const told = left.slice(0, differencesTold - first.length);
  const rest = left.length - told.length;
  return [...first, ...told.map(printDifference), ...(rest > 0 ? [`${rest} more`] : [])].join('; ');
}

/** `arguments 1 and 2 are swapped: 22, 83.6`, if the first differences are that. */
function swappedArguments([one, other]: readonly Difference[]): string | undefined {
  if (one?.kind !== 'moved' || other?.kind !== 'moved') return undefined;
  const [here, there] = [one.path[0], other.path[0]];
  const areSwapped = one.path.length === 1 && one.from === there && other.from === here;
  if (!areSwapped || typeof here !== 'number' || typeof there !== 'number') return undefined;
  const [first, second] = [one, other].map(({ received }) => shortValue(received, valueShown));
  return `arguments ${here + 1} and ${there + 1} are swapped: ${first}, ${second}`;
}

/** The place from which both of two texts are shown. */
function changedFrom(one: unknown, other: unknown, room: number): number {
  if (typeof one !== 'string' || typeof other !== 'string') return 0;
  if (Math.max(one.length, other.length) <= room - 2) return 0;
  let at = 0;
  while (at < one.length && one[at] === other[at]) at++;
  return Math.max(0, at - Math.floor((3 * room) / 10));
}

/** Where an argument has changed, with the recorded and the current value. */
export function printChange({ path, kind, expected, received }: Difference): readonly string[] {
  const then = kind === 'surplus' ? 'nothing' : shortValue(expected, 40);
  const now = kind === 'missing' ? 'nothing' : shortValue(received, 40);
  return [`${printPath(path)} was ${then} when recorded`, `is ${now} now`];
}

/** The sides of a difference in words, given how each is printed. */
export function sides(difference: Difference, expected: string, received: string): readonly Line[] {
  const [one, other] = [piece('expected', expected), piece('received', received)];
  switch (difference.kind) {
    case 'changed':
    case 'type':
      return [
        ['expected ', one],
        ['received ', other, remarkOn(difference)],
      ];
    case 'missing':
      return [['expected ', one], 'received nothing'];
    case 'surplus':
      return ['expected nothing', ['received ', other]];
    case 'moved':
      return [
        ['expected ', other, ` at ${printPath([difference.from ?? 0])}`],
        `received it at ${lastOf(difference)}`,
      ];
    case 'renamed':
      return [
        `expected as ${printPath([difference.from ?? ''])}`,
        `received as ${lastOf(difference)}`,
      ];
    case 'opaque':
      return [
        ['expected ', one],
        ['received ', other],
      ];
  }
}

function lastOf({ path }: Difference): string {
  return printPath(path.slice(-1));
}

/** A remark if the two sides alone do not show the difference. */
function remarkOn({ kind, why, expected, received }: Difference): string {
  if (why === 'another') return ', another one';
  const isNamesake = kind === 'type' && why === undefined && areInstances(expected, received);
  if (isNamesake && classOf(expected) === classOf(received)) return ', of another class';
  if (why === 'identity') return ', equal to it but another object';
  if (why === 'class') return ', the same fields but another class';
  if (typeof expected === 'string' && typeof received === 'string') {
    const hidden = hiddenDifference(expected, received);
    return hidden === undefined ? '' : `, which looks the same but has ${hidden}`;
  }
  return received instanceof Promise ? ', not awaited' : '';
}

function printThrown(reason: unknown): string {
  return shortValue(reason, 120).replace(/^new /, '');
}

/** Where and why it is not known whether a value fits: `[0] it threw Error("no such star") instead of …`. */
export function printUndecided(difference: Difference): string {
  const path = printPath(difference.path);
  return `${path}${path === '' ? '' : ' '}${opaqueBecause(difference)}`;
}

/** Why it is unknown whether two values are equal, and how to change that. */
export function opaqueBecause({ why = 'hidden', expected, received, reason }: Difference): string {
  switch (why) {
    case 'hidden':
      return `${classOf(received)} hides its state; ${wayInto(received)}`;
    case 'bound':
      return 'cut when it was recorded';
    case 'inner':
      return 'part of what makes an instance work, which is not recorded; to claim it is this very one: identical(…)';
    case 'accessor':
      return 'an accessor, which is not run';
    case 'inherited': {
      const [type, key] = [classOf(received), String(reason)];
      return `${printPath([key])} is an accessor of ${type}, which was not run; to compare it: openLedger({ reveals: [reveal(${type}, ({ ${key} }) => ({ ${key} }))] }), or suchThat(({ ${key} }: ${type}) => ${key} === ${shortValue(expected, 40)})`;
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
      return `it returned ${shortValue(reason, 60)} instead of ${matchingOf(expected)?.family === 'ofSchema' ? '{ value } or { issues }' : 'true or false'}`;
    case 'unfollowed':
      return reason === 'added'
        ? 'its promise has properties of its own, so it is passed on untouched and not followed'
        : 'it returned a thenable that may start when it is awaited, so it is not followed';
    case 'identity':
    case 'class':
    case 'another':
      return 'equal to it but another object';
  }
}

/** The code to write to look into instances of a class: by its members, if they are known. */
function wayInto(value: unknown): string {
  const type = classOf(value);
  const instance = type.replace(/^[A-Z]+(?=[A-Z][a-z]|$)|^[A-Z]/, (start) => start.toLowerCase());
  const object = behind(value);
  const [shown] = object === undefined ? [] : readableMembers(object);
  return shown === undefined
    ? `to claim it is this very one: identical(${instance})`
    : `to look into it: openLedger({ reveals: [reveal(${type}, (${instance}) => ${instance}${shown})] })`;
}

/** The object that a received value stands for. */
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
