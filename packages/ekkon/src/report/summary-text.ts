import type { Diagnosis } from '../explain/finding.ts';
import { printCall } from '../notation/call.ts';
import { shortValue } from '../notation/value.ts';
import { type HeldPlan, isShadowed, plansIn, plansOf, printPlan } from '../plan/plan.ts';
import { type Entry, isStreamed, type Outcome } from '../record/entry.ts';
import { entryData } from '../record/entry-data.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import { nameOf, type Tied } from '../record/member.ts';
import type { Target } from '../record/target.ts';
import { changedArguments } from '../rule/changed-argument.ts';
import { judgementsOn, levelOn } from '../rule/judgements.ts';
import { lastPassOn } from '../rule/last-pass-on.ts';
import { inQuotes, safeText } from '../value/escape.ts';
import { printsAs } from '../value/prints-as.ts';
import { messageOf } from './findings.ts';
import { printSite } from './places.ts';
import { count } from './words.ts';

/** How many entries one summary lists before the rest is counted. */
const entriesListed = 200;

/** The summary of an object that a test holds. */
export function summaryText(held: Tied): string {
  const { journal } = held;
  const entries = journal.entries.filter(({ target }) => belongs(target, held));
  const plans = plansIn(journal).filter(({ pattern }) => belongs(pattern.member.target, held));
  const sections = [
    `${subjectOf(held)} · ${count(entries.length, 'entry', 'entries')}`,
    section('calls', callLines(entries.slice(0, entriesListed).map(entryData), entries.length)),
    section('plans', plans.map(planLine)),
    section('notes', [...unplannedLines(journal, entries), ...notedLines(held)]),
    section('claims', held.is === 'ledger' ? claimLines(journal) : []),
  ];
  return safeText(sections.filter((text) => text !== '').join('\n\n'));
}

function belongs(target: Target, held: Tied): boolean {
  switch (held.is) {
    case 'ledger':
      return true;
    case 'double':
      return target.double === held.name;
    case 'member':
      return target === held.target;
    case 'stream':
      return target === held.member.target;
  }
}

function subjectOf(held: Tied): string {
  const ledger = `ledger ${inQuotes(held.journal.name)}`;
  return held.is === 'ledger' ? ledger : `${nameOf(held)} in ${ledger}`;
}

function section(title: string, lines: readonly string[]): string {
  return lines.length === 0 ? '' : [title, ...lines.map((line) => `  ${line}`)].join('\n');
}

function callLines(entries: readonly Entry[], all: number): readonly string[] {
  const shown = entries.map((entry) => ({
    call: printCall(entry),
    id: `#${entry.id}`,
    ended: printEnding(entry),
    site: printSite(entry.site),
  }));
  const column = Math.min(60, Math.max(0, ...shown.map(({ call }) => call.length)));
  const lines = shown.map(({ call, id, ended, site }) =>
    `${id.padEnd(4)} ${call.padEnd(column)}   ${ended}${site === '' ? '' : `   ${site}`}`.trimEnd(),
  );
  const left = all - shown.length;
  return left > 0 ? [...lines, `… ${left} more ${left === 1 ? 'entry' : 'entries'}`] : lines;
}

/** How a call ended, in a few words; a stream event is a moment, and has no end of its own. */
export function printEnding({ kind, outcome }: Pick<Entry, 'kind' | 'outcome'>): string {
  return isStreamed(kind) ? '' : printOutcome(outcome);
}

function printOutcome(outcome: Outcome): string {
  switch (outcome.state) {
    case 'running':
    case 'pending':
      return outcome.state;
    case 'returned':
    case 'fulfilled':
      return outcome.value === undefined
        ? outcome.state
        : `${outcome.state} ${shortValue(outcome.value)}`;
    case 'threw':
    case 'rejected':
      return `${outcome.state} ${shortValue(outcome.reason)}`;
  }
}

function planLine(plan: HeldPlan): string {
  const used = plan.used === 0 ? 'never used' : `answered ${count(plan.used, 'call')}`;
  return `${printPlan(plan)}   ${[used, ...remarksOn(plan)].join('; ')}`;
}

/** Remarks on a plan besides how often it answered. */
function remarksOn(plan: HeldPlan): readonly string[] {
  const remarks: string[] = [];
  const { member } = plan.pattern;
  const repeated = plan.used - plan.replies.length;
  if (plan.replies.length > 1 && repeated > 0) {
    const often = repeated === 1 ? 'once' : `${repeated} times`;
    remarks.push(`ran out, the last reply was repeated ${often}`);
  }
  if (isShadowed(plan, plansOf(member))) remarks.push('a newer plan answers all its calls');
  if (member.otherwise === 'unknown')
    remarks.push(`${member.shape?.name} has no such member on its prototype`);
  return remarks;
}

/** Calls that nothing answered, if the rule is to note them. */
function unplannedLines(journal: Journal, entries: readonly HeldEntry[]): readonly string[] {
  const unanswered = new Map<Target, HeldEntry[]>();
  for (const entry of entries) {
    const { target, more, kind } = entry;
    if (kind !== 'call' || more?.answer !== undefined) continue;
    if (levelOn(journal, target.double, 'unplannedCall') !== 'note') continue;
    unanswered.set(target, [...(unanswered.get(target) ?? []), entry]);
  }
  return [...unanswered].map(([{ label }, calls]) => {
    const ids = calls.slice(0, 12).map(({ id }) => `#${id}`);
    return `${count(calls.length, 'unplanned call')} to ${label}: ${ids.join(', ')}`;
  });
}

/** The notes of rules: of the ledger, or about entries of the double. */
function notedLines(held: Tied): readonly string[] {
  const { journal } = held;
  const noted: readonly Diagnosis[] = [
    ...judgementsOn(journal).noted,
    ...changedArguments(journal, 'note').map(({ diagnosis }) => diagnosis),
  ];
  const isAbout = (id: number) => {
    const entry = journal.entries[id - 1];
    return entry !== undefined && belongs(entry.target, held);
  };
  const { leftOut } = lastPassOn(journal);
  const kept =
    held.is === 'ledger' && leftOut !== undefined
      ? [`the record is not kept as that of the last pass: ${leftOut}`]
      : [];
  const told =
    held.is === 'ledger' ? noted : noted.filter(({ culprits }) => culprits.some(isAbout));
  return [...told.map((diagnosis) => `${diagnosis.claim}: ${messageOf(diagnosis)}`), ...kept];
}

function claimLines(journal: Journal): readonly string[] {
  return judgementsOn(journal).judged.map(
    ({ claim, holds }) => `${holds ? 'holds' : 'fails'}   ${claim[printsAs]}`,
  );
}
