import type { JudgedEntry } from '../pattern.ts';

/**
 * How a claim stands at one moment: it holds; it does not, and what is still to come may make it; or
 * nothing that is still to come can.
 */
export type Standing = 'holds' | 'open' | 'lost';

/** How a claim stands while the record grows, worked out event by event. */
export interface Progress {
  readonly standing: Standing;
  /** Takes the next event of the record: an entry's beginning, or its end. Events come in order of their ticks. */
  take(entry: JudgedEntry, end: boolean): void;
}
