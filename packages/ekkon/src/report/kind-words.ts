import type { EntryKind } from '../record/entry.ts';
import { count } from './words.ts';

/** The words for entries of one kind. */
interface KindWords {
  readonly noun: string;
  /** That it happened, before how often. */
  readonly happened: string;
  /** That it never happened. */
  readonly never: string;
}

const called: KindWords = { noun: 'call', happened: 'was called', never: 'was never called' };

/** The words for entries by kind. */
export const kindWords: { readonly [K in EntryKind]: KindWords } = {
  call: called,
  construct: called,
  read: { noun: 'read', happened: 'was read', never: 'was never read' },
  write: { noun: 'write', happened: 'was written', never: 'was never written' },
  item: { noun: 'item', happened: 'came', never: 'emitted nothing' },
  end: { noun: 'end', happened: 'came', never: 'did not complete' },
  failure: { noun: 'failure', happened: 'came', never: 'did not fail' },
};

/** Entries of a kind with their number: `1 call`, `3 reads`. */
export function countOf(number: number, kind: EntryKind): string {
  return count(number, kindWords[kind].noun);
}
