import type { Site } from './call-site.ts';

/** How a call ended, or that it has not. */
export type Outcome<R = unknown> =
  | { readonly state: 'running' }
  | { readonly state: 'pending' }
  | { readonly state: 'returned'; readonly value: R }
  | { readonly state: 'threw'; readonly reason: unknown }
  | { readonly state: 'fulfilled'; readonly value: Awaited<R> }
  | { readonly state: 'rejected'; readonly reason: unknown };

export type EntryKind = 'call' | 'construct' | 'read' | 'write' | 'item' | 'end' | 'failure';

/** One recorded call: who was called, with what, from where, when it began, when and how it ended. */
export interface Entry<A extends readonly unknown[] = readonly unknown[], R = unknown> {
  /** 1 for the ledger's first entry, then one more each. */
  readonly id: number;
  /** The member, with the double's name: `camera.expose`. No two members of a ledger share one. */
  readonly label: string;
  readonly kind: EntryKind;
  /** The arguments as they were at that moment. */
  readonly args: A;
  /** What the member was called on. */
  readonly receiver: unknown;
  /** Ticks on the ledger's one clock of events. */
  readonly began: number;
  readonly ended: number | undefined;
  readonly outcome: Outcome<R>;
  /** Where the call was written; `undefined` past the ledger's number of call sites. */
  readonly site: Site | undefined;
  /** The id of the entry during which this one was made. */
  readonly parent: number | undefined;
  /** The plan that answered and its reply, as they print; `undefined` where none did. */
  readonly answer: Answer | undefined;
}

/** What answered a call: `{ plan: 'weather.rain', reply: 'gives 0' }`. */
export interface Answer {
  readonly plan: string;
  readonly reply: string;
}
