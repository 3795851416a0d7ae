/** A stretch of a record, between two ticks that do not belong to it. */
export interface Window {
  readonly after: number;
  readonly before: number;
}

/** The whole record. */
export const everything: Window = {
  after: Number.NEGATIVE_INFINITY,
  before: Number.POSITIVE_INFINITY,
};

export function within({ after, before }: Window, tick: number): boolean {
  return tick > after && tick < before;
}
