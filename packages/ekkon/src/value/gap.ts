import { areOwn, printsAs } from './prints-as.ts';

/** Why a place in a copy holds no value. */
export type GapReason =
  /** An accessor stood there, and Ekkon runs none. */
  | 'accessor'
  /** The copy's budget of nodes, depth or bytes was spent. */
  | 'bound'
  /** A nested part that makes an instance work. */
  | 'inner'
  /** Reading threw: a revoked proxy, a trap that throws. */
  | 'unreadable';

/** A place in a copy that could not be recorded. It never compares equal by accident. */
export class Gap {
  readonly gap: GapReason;
  /** The value that stood there, so the very object can be recognized. */
  readonly source: unknown;
  private readonly detail: string;

  /**
   * @param source the original value, if it can tell two gaps apart
   * @param detail printed in the mark: the missing part, and its size
   */
  constructor(gap: GapReason, source: unknown, detail: string) {
    this.gap = gap;
    this.source = source;
    this.detail = detail;
  }

  get [printsAs](): string {
    return `‹${this.detail}›`;
  }
}

areOwn(Gap);

/** Marks a place in a copy that holds no value. */
export function makeGap(gap: GapReason, source: unknown, detail: string): Gap {
  return new Gap(gap, source, detail);
}

/** Whether a value found in a copy is such a mark. */
export function isGap(value: unknown): value is Gap {
  return value instanceof Gap;
}

/** Whether a value found in a copy stands for any number of items of a collection, which were too many to keep. */
export function isCut(value: unknown): boolean {
  return isGap(value) && value.gap === 'bound' && value.source === undefined;
}

/** The explanation of a gap, without the signs around it. */
export function missingIn(gap: Gap): string {
  return gap[printsAs].replace(/^‹|›$/g, '');
}
