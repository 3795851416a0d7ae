import type { Site } from './call-site.ts';

/** How a call ended, or that it has not. */
export type Outcome<R = unknown> =
  | { readonly state: 'running' }
  | { readonly state: 'pending' }
  | { readonly state: 'returned'; readonly value: R }
  | { readonly state: 'threw'; readonly reason: unknown }
  | { readonly state: 'fulfilled'; readonly value: Awaited<R> }
  | { readonly state: 'rejected'; readonly reason: unknown };

/** The kind of an entry: a call, a construction, a property, or a stream event. */
export type EntryKind = 'call' | 'construct' | 'read' | 'write' | 'item' | 'end' | 'failure';

/** Whether entries of a kind are stream events, which end when they begin. */
export function isStreamed(kind: EntryKind): boolean {
  return kind === 'item' || kind === 'end' || kind === 'failure';
}

/** One recorded call: who was called, with what, from where, when it began, when and how it ended. */
export interface Entry<A extends readonly unknown[] = readonly unknown[], R = unknown> {
  /** 1 for the ledger's first entry, then one more each. */
  readonly id: number;
  /** The member, with the double's name: `camera.expose`. No two members of a ledger share one. */
  readonly label: string;
  /** The double's name, and the label's rest: `camera`, `expose`; `''` for a double that is a function. */
  readonly double: string;
  readonly member: string;
  readonly kind: EntryKind;
  /** The arguments as they were at the call. */
  readonly args: A;
  /** The arguments themselves, as they are now. */
  readonly liveArgs: A;
  /** The receiver of the call. */
  readonly receiver: unknown;
  /** Milliseconds since the epoch. */
  readonly at: { readonly began: number; readonly ended: number | undefined };
  /** Ticks on the ledger's one clock of events. */
  readonly began: number;
  readonly ended: number | undefined;
  readonly outcome: Outcome<R>;
  /** Where the call was written; `undefined` once the ledger has captured as many call sites as it may. */
  readonly site: Site | undefined;
  /** The places that led to the call, the nearest first and at most two; those in packages are left out. */
  readonly sites: readonly Site[];
  /** The id of the entry during which this one was made. */
  readonly parent: number | undefined;
  /** The plan that answered and its reply, as they print; `undefined` if none did. */
  readonly answer: Answer | undefined;
}

/** The answer to a call: `{ plan: 'weather.rain', reply: 'gives 0' }`. */
export interface Answer {
  readonly plan: string;
  readonly reply: string;
}

/** The same, as the journal holds it. */
export interface HeldAnswer extends Answer {
  /** Whether it is a promise that the test holds in its hands, to settle it or not. */
  readonly isHeld?: boolean;
}
