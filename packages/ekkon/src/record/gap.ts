import { isOwn, makeOwn, printsAs } from './prints-as.ts';

/** Why a place in a copy holds no value. */
export type GapReason =
  /** An accessor stood there, and Ekkon runs none. */
  | 'accessor'
  /** The copy's budget of nodes, depth or bytes was spent. */
  | 'bound'
  /** Reading threw: a revoked proxy, a trap that throws. */
  | 'unreadable';

/** A place in a copy that could not be recorded. It never compares equal by accident. */
export interface Gap {
  readonly gap: GapReason;
  /** What two gaps must share to be the same one: the accessor itself. */
  readonly source: unknown;
  readonly [printsAs]: string;
}

/**
 * Marks a place in a copy that holds no value.
 *
 * @param source what stood there, if that can tell two gaps apart
 * @param detail printed in the mark: what is missing, and how much of it
 */
export function makeGap(gap: GapReason, source: unknown, detail: string): Gap {
  return makeOwn({ gap, source, [printsAs]: `‹${detail}›` });
}

/** Whether a value found in a copy is such a mark. */
export function isGap(value: unknown): value is Gap {
  return isOwn(value) && 'gap' in value;
}

/** Whether a value found in a copy stands for any number of items of a collection, which were too many to keep. */
export function isCut(value: unknown): boolean {
  return isGap(value) && value.gap === 'bound' && value.source === undefined;
}
