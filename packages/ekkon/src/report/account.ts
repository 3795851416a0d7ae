import type { Diagnosis } from '../explain/finding.ts';
import { printCall } from '../notation/call.ts';
import { shortValue } from '../notation/value.ts';
import { type HeldPlan, isShadowed } from '../plan/plan.ts';
import type { Entry, Outcome } from '../record/entry.ts';
import type { HeldEntry, LedgerRecord, Member, Tied } from '../record/ledger-record.ts';
import { isOf } from '../record/member.ts';
import { printsAs } from '../record/prints-as.ts';
import { entryData } from '../record/recording.ts';
import { refuse } from '../record/refuse.ts';
import { tied } from '../record/tie.ts';
import { changedArguments } from '../rule/changed-argument.ts';
import { messageOf } from './message.ts';
import { printSite } from './places.ts';
import { count } from './words.ts';

/** How many entries one account lists before the rest is counted. */
const entriesListed = 200;

/**
 * The readable account of a ledger, a double or a member: its calls in order with how they ended, its
 * plans with how often each replied, and, of a ledger, the claims judged so far.
 *
 * @throws TypeError where the subject is none of these
 * @example
 * console.log(account(dome));
 */
export function account(subject: object): string {
  const held = tied(subject);
  if (held === undefined) {
    refuse(
      `account() takes a ledger, a double or a member, and was given ${shortValue(subject)}.`,
      account,
    );
  }
  const { record } = held;
  const members = record.members.filter((member) =>
    belongs(member, held),
  ) as readonly Member<HeldPlan>[];
  const labels = new Set(members.map(({ label }) => label));
  const entries = record.entries.filter(({ label }) => labels.has(label));
  const sections = [
    `${subjectOf(held)} · ${count(entries.length, 'entry', 'entries')}`,
    section('calls', callLines(entries.slice(0, entriesListed).map(entryData), entries.length)),
    section('plans', members.flatMap(planLines)),
    section('notes', [
      ...members.flatMap((member) => noteLines(member, entries)),
      ...notedLines(held),
    ]),
    section('claims', held.is === 'ledger' ? claimLines(record) : []),
  ];
  return sections.filter((text) => text !== '').join('\n\n');
}

function belongs(member: Member, held: Tied): boolean {
  switch (held.is) {
    case 'ledger':
      return true;
    case 'double':
      return member.double === held.name;
    case 'member':
      return member === held;
    case 'stream':
      return member === held.member;
  }
}

function subjectOf(held: Tied): string {
  if (held.is === 'ledger') return `ledger "${held.record.name}"`;
  return `${held.is === 'member' ? held.label : held.name} in ledger "${held.record.name}"`;
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
  return all > shown.length ? [...lines, `… ${all - shown.length} more entries`] : lines;
}

/** How a call ended, in a few words; what a stream does is a moment, and has no end of its own. */
export function printEnding({ kind, outcome }: Entry): string {
  const isMoment = kind === 'item' || kind === 'end' || kind === 'failure';
  return isMoment ? '' : printOutcome(outcome);
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

function planLines(member: Member<HeldPlan>): readonly string[] {
  return member.plans.map((plan) => {
    const said = plan.replies.map((reply) => reply[printsAs]).join(', then ');
    const used = plan.used === 0 ? 'never used' : `answered ${count(plan.used, 'call')}`;
    const remarks = [used, ...remarksOn(plan, member)];
    return `${plan.counted?.notation ?? plan.pattern[printsAs]} ${said}   ${remarks.join('; ')}`;
  });
}

/** What somebody would want to know of a plan beside how often it answered. */
function remarksOn(
  plan: HeldPlan,
  { plans, otherwise, shape }: Member<HeldPlan>,
): readonly string[] {
  const remarks: string[] = [];
  const repeated = plan.used - plan.replies.length;
  if (plan.replies.length > 1 && repeated > 0) {
    remarks.push(`ran out, the last reply was repeated ${count(repeated, 'time')}`);
  }
  if (isShadowed(plan, plans)) remarks.push('a newer plan answers all its calls');
  if (otherwise === 'unknown') remarks.push(`${shape?.name} has no such member on its prototype`);
  return remarks;
}

/** Calls that nothing answered, where the rule is to note them. */
function noteLines(member: Member<HeldPlan>, entries: readonly HeldEntry[]): readonly string[] {
  const answers = member.otherwise === 'real' || member.whenUnplanned !== 'note';
  const unanswered = entries.filter(
    ({ label, answer }) => label === member.label && answer === undefined,
  );
  if (answers || unanswered.length === 0) return [];
  const ids = unanswered.slice(0, 12).map(({ id }) => `#${id}`);
  return [`${count(unanswered.length, 'unplanned call')} of ${member.label}: ${ids.join(', ')}`];
}

/** What rules noted: of the ledger, or where an entry of the double is concerned. */
function notedLines(held: Tied): readonly string[] {
  const { record } = held;
  const noted = [
    ...(record.noted as readonly Diagnosis[]),
    ...changedArguments(record, 'note').map(({ diagnosis }) => diagnosis),
  ];
  const told =
    held.is === 'ledger'
      ? noted
      : noted.filter(({ culprits }) => culprits.some((id) => isOfSubject(held, record, id)));
  return told.map((diagnosis) => `${diagnosis.claim}: ${messageOf(diagnosis)}`);
}

function isOfSubject(held: Tied, { entries }: LedgerRecord, id: number): boolean {
  const label = entries[id - 1]?.label;
  const name = held.is === 'ledger' ? '' : held.is === 'member' ? held.label : held.name;
  return label !== undefined && isOf(label, name);
}

function claimLines({ judged }: LedgerRecord): readonly string[] {
  return judged.map(({ claim, holds }) => `${holds ? 'holds' : 'fails'}   ${claim.notation}`);
}
