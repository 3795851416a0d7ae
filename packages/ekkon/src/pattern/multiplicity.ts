import { shortValue } from '../notation/value.ts';
import type { Below } from '../value/below.ts';
import { refuse } from '../value/refuse.ts';

/** How often: `2`, `'2..4'`, `'1..*'`, as UML writes multiplicities. */
export type Multiplicity = number | `${number}..${number | '*'}`;

/** A count's bounds, both included. */
export interface Range {
  readonly least: number;
  readonly most: number;
}

/**
 * Reads a range.
 *
 * @param below the public function that was given it
 * @throws TypeError if it is invalid
 */
export function readRange(range: unknown, below: Below): Range {
  const said = `${below.name}(${shortValue(range)}, …)`;
  if (typeof range === 'number') {
    if (isCount(range)) return { least: range, most: range };
    refuse(
      `${said}: a count must be a whole number of 0 or more. Write 2, '2..4' or '1..*'.`,
      below,
    );
  }
  const [, low = '', high = ''] =
    /^(\d+)\.\.(\d+|\*)$/.exec(typeof range === 'string' ? range : '') ?? [];
  const least = Number(low);
  const most = high === '*' ? unbounded : Number(high);
  if (low === '' || !isCount(least)) {
    if (typeof range === 'string' && /^\d+$/.test(range))
      refuse(`${said}: a count is a number. Write ${Number(range)}, without quotes.`, below);
    refuse(
      `${said}: this is not a valid range. Write a whole number, or two with two dots between: 2, '2..4' or '1..*'.`,
      below,
    );
  }
  if (least > most) {
    refuse(`${said}: the lower bound is above the upper one. Write '${most}..${least}'.`, below);
  }
  return { least, most };
}

function isCount(value: number): boolean {
  return Number.isSafeInteger(value) && value >= 0;
}

/** A range as it is written: `2`, `2..4`, `1..*`. */
export function printRange({ least, most }: Range): string {
  if (least === most) return String(least);
  return `${least}..${most === unbounded ? '*' : most}`;
}

/** The upper bound of a range without one. */
export const unbounded: number = Number.POSITIVE_INFINITY;

/** Whether a count lies within a range. */
export function inRange({ least, most }: Range, count: number): boolean {
  return count >= least && count <= most;
}

export function sameRange(one: Range, other: Range): boolean {
  return one.least === other.least && one.most === other.most;
}

/** Whether every count lies in a range: it requires nothing. */
export function isEverything({ least, most }: Range): boolean {
  return least === 0 && most === unbounded;
}
