import { shortValue } from '../notation/value.ts';
import { refuse } from '../record/refuse.ts';

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
 * @throws TypeError where it is none
 */
export function readRange(range: unknown, below: (...args: never[]) => unknown): Range {
  const said = `${below.name}(${shortValue(range)}, …)`;
  if (typeof range === 'number') {
    if (isCount(range)) return { least: range, most: range };
    refuse(`${said}: a count is a whole number from 0 on. Write 2, '2..4' or '1..*'.`, below);
  }
  const [, low = '', high = ''] =
    /^(\d+)\.\.(\d+|\*)$/.exec(typeof range === 'string' ? range : '') ?? [];
  const least = Number(low);
  const most = high === '*' ? Number.POSITIVE_INFINITY : Number(high);
  if (low === '' || !isCount(least)) {
    refuse(
      `${said}: this is no range. Write a whole number, or two with two dots between: 2, '2..4' or '1..*'.`,
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
  return `${least}..${most === Number.POSITIVE_INFINITY ? '*' : most}`;
}
