import { type CapturedSite, captureSite, readSite, type Site } from './call-site.ts';
import { type Copies, copyList, copyOf, holdsLeaves } from './copy.ts';
import type { Entry, EntryKind, Outcome } from './entry.ts';
import type { HeldEntry, LedgerRecord, Level } from './ledger-record.ts';
import type { HeldReveal } from './revealed.ts';
import { followPromises } from './settle.ts';

export function openRecord(
  name: string,
  callSites: number,
  reveals: readonly HeldReveal[],
  whenVacuous: Level,
): LedgerRecord {
  return {
    name,
    entries: [],
    tick: 0,
    running: undefined,
    sitesLeft: callSites,
    names: new Map(),
    members: [],
    judged: [],
    promises: followPromises(),
    reveals,
    unplanned: [],
    accounted: new Set(),
    whenVacuous,
    vacuous: [],
    slots: [],
    failed: false,
    closed: false,
  };
}

const running: Outcome = Object.freeze({ state: 'running' });
const pending: Outcome = Object.freeze({ state: 'pending' });
const returnedNothing: Outcome = Object.freeze({ state: 'returned', value: undefined });

/**
 * Records that a call begins, with its arguments as they are now.
 *
 * @param args the call's own list: it is kept where nothing in it needs a copy
 * @param below the function whose caller is the call site
 */
export function begin(
  record: LedgerRecord,
  label: string,
  receiver: unknown,
  args: readonly unknown[],
  below: (...args: never[]) => unknown,
  kind: EntryKind = 'call',
): HeldEntry {
  let captured: CapturedSite | undefined;
  if (record.sitesLeft > 0) {
    record.sitesLeft--;
    captured = captureSite(below);
  }
  let held = args;
  let copies: Copies;
  if (!holdsLeaves(args)) ({ values: held, copies } = copyList(args, record));
  const { entries } = record;
  const entry: HeldEntry = {
    id: entries.length + 1,
    label,
    kind,
    args: held,
    receiver,
    began: ++record.tick,
    ended: undefined,
    outcome: running,
    parent: record.running,
    copies,
    captured,
    answer: undefined,
  };
  entries.push(entry);
  return entry;
}

/** Records that a call ended; the value or the reason is copied as it is now. */
export function end(
  record: LedgerRecord,
  entry: HeldEntry,
  state: 'returned' | 'threw' | 'fulfilled' | 'rejected',
  result: unknown,
): void {
  entry.ended = ++record.tick;
  entry.outcome = outcomeOf(record, state, result);
}

/** Records that a call gave back a promise that has not settled. */
export function leavePending(entry: HeldEntry): void {
  entry.outcome = pending;
}

function outcomeOf(
  record: LedgerRecord,
  state: 'returned' | 'threw' | 'fulfilled' | 'rejected',
  result: unknown,
): Outcome {
  if (state === 'returned' && result === undefined) return returnedNothing;
  const value = copyOf(result, record);
  switch (state) {
    case 'returned':
    case 'fulfilled':
      return { state, value };
    case 'threw':
    case 'rejected':
      return { state, reason: value };
  }
}

/** An entry as plain data, as it stands at this moment. */
export function entryData(entry: Entry | HeldEntry): Entry {
  const { id, label, kind, args, receiver, began, ended, outcome, parent } = entry;
  const site = siteOf(entry);
  const answer = entry.answer && { plan: entry.answer.plan, reply: entry.answer.reply };
  return { id, label, kind, args, receiver, began, ended, outcome, site, parent, answer };
}

function siteOf(entry: Entry | HeldEntry): Site | undefined {
  if (!('captured' in entry)) return entry.site;
  return entry.captured === undefined ? undefined : readSite(entry.captured);
}
