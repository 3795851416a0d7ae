import { type CapturedSite, captureSite, readSite, type Site } from './call-site.ts';
import { type Copies, copyList, copyOf, holdsLeaves } from './copy.ts';
import type { Entry, EntryKind, Outcome } from './entry.ts';
import type { HeldEntry, LedgerRecord, PendingOn } from './ledger-record.ts';
import { followPromises } from './settle.ts';

export function openRecord({
  name,
  callSites,
  reveals,
  rules,
  clock,
}: Pick<LedgerRecord, 'name' | 'reveals' | 'rules' | 'clock'> & {
  readonly callSites: number;
}): LedgerRecord {
  return {
    name,
    entries: [],
    tick: 0,
    running: undefined,
    sitesLeft: callSites,
    names: new Map(),
    members: [],
    judged: [],
    written: new Map(),
    writtenSitesLeft: callSites,
    promises: followPromises(),
    clock,
    pending: new Map(),
    whenSettled: new Set(),
    hearing: undefined,
    reveals,
    unplanned: [],
    slots: [],
    streams: [],
    lookedAt: new Set(),
    rules,
    ruled: [],
    standing: [],
    waits: [],
    noted: [],
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
 * @param below the function whose caller is the call site; left out where there is no caller to name
 */
export function begin(
  record: LedgerRecord,
  label: string,
  receiver: unknown,
  args: readonly unknown[],
  below: ((...args: never[]) => unknown) | undefined,
  kind: EntryKind = 'call',
): HeldEntry {
  let captured: CapturedSite | undefined;
  if (record.sitesLeft > 0 && below !== undefined) {
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
  if (record.hearing !== undefined) record.hearing.hear(entry, false);
  return entry;
}

/** Records that a call ended; the value or the reason is copied as it is now. */
export function end(
  record: LedgerRecord,
  entry: HeldEntry,
  state: 'returned' | 'threw' | 'fulfilled' | 'rejected',
  result: unknown,
): void {
  const wasPending = entry.outcome === pending;
  entry.ended = ++record.tick;
  entry.outcome = outcomeOf(record, state, result);
  if (wasPending) {
    record.pending.delete(entry);
    for (const tell of record.whenSettled) tell();
  }
  if (record.hearing !== undefined) record.hearing.hear(entry, true);
}

/** Records that a call gave back a promise that has not settled. */
export function leavePending(record: LedgerRecord, entry: HeldEntry, on: PendingOn): void {
  entry.outcome = pending;
  record.pending.set(entry, { since: record.clock.now(), on });
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
  return 'captured' in entry ? readSite(entry.captured) : entry.site;
}
