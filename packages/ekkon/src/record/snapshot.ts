import type { Content, PlatformClass } from './platform/platform-class.ts';
import { isOwn, makeOwn, printsAs } from './prints-as.ts';

/**
 * What stands in a copy for an object that cannot be copied: the object itself, and what it showed when it
 * was recorded.
 */
export interface Snapshot {
  readonly of: object;
  /** What it showed by then, copied. Of a thing with an identity, the primitives among its own properties. */
  readonly content: Content;
  /** The class of the platform that it is an instance of; `undefined` for a thing with an identity. */
  readonly type: string | undefined;
  /** All that it holds, if one primitive says it. */
  readonly state: unknown;
  /** What it holds that was not read, in words of a report. */
  readonly unseen: string | undefined;
  readonly print: PlatformClass['print'];
  readonly [printsAs]: string;
}

/** Makes what stands for an object in a copy. */
export function makeSnapshot(parts: Omit<Snapshot, typeof printsAs>): Snapshot {
  return makeOwn({ ...parts, [printsAs]: `‹${parts.type ?? 'object'}›` });
}

/** Whether a value found in a copy stands for an object that cannot be copied. */
export function isSnapshot(value: unknown): value is Snapshot {
  return isOwn(value) && 'of' in value && 'content' in value;
}
