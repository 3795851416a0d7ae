import { shortValue } from '../notation/value.ts';
import { copyClaimed } from '../value/claimed-copy.ts';
import { kindOf } from '../value/kind.ts';
import { refuse } from '../value/refuse.ts';
import { dateTime } from '../value/slots.ts';
import { takesOnly } from '../value/takes-only.ts';
import { type Matcher, makeTest, type Wide } from './matcher.ts';

/** How far off `about` lets a number be: this part of it, and of 1 if it is smaller. */
const usualTolerance = 1e-6;

/**
 * Accepts numbers near one, such as results of floating-point arithmetic.
 *
 * @param tolerance how far off it may be, in the number's own unit; default a millionth of the number,
 * and of 1 if it is smaller than that
 * @throws TypeError if the value is not a number, or the tolerance is not a number of 0 or more
 * @example
 * call(mount.slewTo, [about(83.6), about(22, 0.05)])
 * @see between for bounds
 */
export function about(value: number, tolerance?: number): Matcher<number> {
  takesOnly(2, arguments, about);
  if (typeof value !== 'number' || Number.isNaN(value)) {
    refuse(`about() takes a number, and was given ${shortValue(value)}.`, about);
  }
  if (tolerance !== undefined && !(typeof tolerance === 'number' && tolerance >= 0)) {
    refuse(
      `about(${value}, …): the tolerance must be a number of 0 or more, not ${shortValue(tolerance)}.`,
      about,
    );
  }
  const scale = Number.isFinite(value) ? Math.max(1, Math.abs(value)) : 0;
  const allowed = tolerance ?? usualTolerance * scale;
  const prints = tolerance === undefined ? `about(${value})` : `about(${value}, ${tolerance})`;
  return makeTest(
    'about',
    [value, allowed],
    prints,
    (received) =>
      typeof received === 'number' && (received === value || Math.abs(received - value) <= allowed),
  );
}

/**
 * Accepts values between two bounds, both included: numbers, bigints or dates.
 *
 * @throws TypeError if the bounds are not of one kind, or the lower is above the upper
 * @example
 * call(mount.slewTo, [between(0, 360), between(-90, 90)])
 */
export function between<N extends number | bigint | Date>(low: N, high: N): Matcher<Wide<N>> {
  takesOnly(2, arguments, between);
  const [least, most] = [orderOf(low), orderOf(high)];
  const bounds = `between(${shortValue(low)}, ${shortValue(high)})`;
  if (least === undefined || most === undefined || least.kind !== most.kind) {
    refuse(`${bounds}: bounds are two numbers, two bigints or two dates.`, between);
  }
  if (least.at > most.at) {
    refuse(
      `${bounds}: the lower bound is above the upper one. Write between(${shortValue(high)}, ${shortValue(low)}).`,
      between,
    );
  }
  const lies = (received: unknown) => {
    const order = orderOf(received);
    return order?.kind === least.kind && order.at >= least.at && order.at <= most.at;
  };
  return makeTest('between', [copyClaimed(low), copyClaimed(high)], bounds, lies, {
    looksInside: true,
  });
}

/** The place of a value among its kind; `undefined` if it has none. */
function orderOf(
  value: unknown,
): { readonly kind: string; readonly at: number | bigint } | undefined {
  if (typeof value === 'number')
    return Number.isNaN(value) ? undefined : { kind: 'number', at: value };
  if (typeof value === 'bigint') return { kind: 'bigint', at: value };
  if (typeof value !== 'object' || value === null || kindOf(value) !== 'date') return undefined;
  const at = dateTime.call(value);
  return Number.isNaN(at) ? undefined : { kind: 'date', at };
}
