import type { Since } from '../explain/since.ts';
import { printCall } from '../notation/call.ts';
import type { Entry } from '../record/entry.ts';
import { intrinsics } from '../value/intrinsics.ts';
import { textOf } from './block.ts';
import {
  changesShown,
  lastPassed,
  memberLines,
  rowFor,
  sinceLines,
  sinceSentence,
  titleOf,
  whatOf,
} from './since-words.ts';

/** What changed since a test last passed, for a page: how much, the first change in a sentence, and each change. */
export interface ToldSince {
  readonly heading: string;
  readonly first: string;
  readonly changes: readonly ToldChange[];
}

/** A change on a page: its title, the call that it leads to, and the lines below it. */
export interface ToldChange {
  readonly title: string;
  /** The call, or the one after which something is missing; `undefined` at the start. */
  readonly entry: number | undefined;
  readonly call: string;
  readonly what: string;
  readonly site: string;
  readonly more: readonly string[];
}

/** What changed since a test last passed as plain data. */
export function toldSince(since: Since, width: number): ToldSince {
  return {
    heading: textOf(sinceLines(since, width)[0] ?? ''),
    first: sinceSentence(since) ?? '',
    changes: since.groups.slice(0, changesShown).map((group, at) => {
      const title = titleOf(group, at, since.firstClaimed);
      const { call, what, site } = rowFor(title, group, width);
      const more = memberLines(group, width).map((line) => line.trim());
      const [change] = group.changes;
      const entry = change.is === 'gone' ? change.after?.id : change.now.id;
      return { title, entry, call, what, site, more };
    }),
  };
}

/** What changed since a test last passed as data that JSON carries; values print as reports show them. */
export function sinceData(since: Since, then = lastPassed): unknown {
  const { passedAt, calls, groups, firstClaimed, changedCalls, unsteady, stopped, counts } = since;
  return {
    passed: new intrinsics.Date(passedAt).toISOString(),
    calls,
    first: sinceSentence(since, then) ?? null,
    changedCalls,
    changes: groups.map(({ changes, again }) => ({
      calls: changes.map((change) => ({
        is: change.is,
        ...('was' in change ? { was: callData(change.was) } : {}),
        ...('now' in change ? { now: callData(change.now) } : {}),
        says: whatOf({ changes: [change], again: [] }, wholeValue),
        isFirstClaimed: change === firstClaimed,
      })),
      again,
    })),
    unsteady,
    ...(stopped === undefined
      ? {}
      : { stopped: { after: stopped.after?.id ?? null, later: stopped.later } }),
    ...(counts === undefined ? {} : { counts }),
  };
}

/** Characters of a value in data. */
const wholeValue = 400;

function callData(entry: Entry): unknown {
  const { id, label, site } = entry;
  return { id, label, call: printCall(entry), ...(site === undefined ? {} : { site }) };
}
