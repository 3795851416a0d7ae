import type { HeldEntry, Journal } from './journal.ts';
import type { Member } from './member.ts';

/**
 * Starts to read the parts of a call's arguments that can only be read asynchronously, such as a request's body,
 * before other code reads them; `undefined` if there are none.
 */
export type ReadBody = (args: readonly unknown[]) => Promise<unknown> | undefined;

const readers = new WeakMap<Member, ReadBody>();
/** Most programs never ask for a body: a call costs nothing then. */
let isAsked = false;

/**
 * Has the bodies of a member's calls read from now on: somebody wrote a pattern of requests.
 *
 * @param isWanted whether the pattern asks for the body; such a reader is not replaced by one of a pattern that does not
 */
export function readBodiesOf(member: Member, read: ReadBody, isWanted: boolean): void {
  isAsked = true;
  if (isWanted || !readers.has(member)) readers.set(member, read);
}

/** Begins to read the body of a call that is about to be recorded, if one is asked for. */
export function readingOf(member: Member, args: readonly unknown[]): Promise<unknown> | undefined {
  return isAsked ? readers.get(member)?.(args) : undefined;
}

const bodies = new WeakMap<HeldEntry, { readonly body: unknown }>();

/** The body of a call, once it was read. */
export function bodyOf(entry: HeldEntry): { readonly body: unknown } | undefined {
  return bodies.get(entry);
}

/** Notes the body of a call that was read, or that stands in a file. */
export function noteBody(entry: HeldEntry, body: unknown): void {
  bodies.set(entry, { body });
}

/**
 * Notes that the body of an entry is being read. Until it is, waits are notified neither of the entry nor of later
 * ones, so nobody decides something that is still unknown.
 *
 * @returns a promise that settles once the body is known
 */
export async function noteReading(
  journal: Journal,
  entry: HeldEntry,
  reading: Promise<unknown>,
): Promise<void> {
  journal.unread.add(entry);
  // An unreadable body stays unknown; that is no fault of the caller.
  const body = await reading.catch(() => undefined);
  noteBody(entry, body);
  journal.unread.delete(entry);
  journal.hearing?.read(entry);
}
