import type { ItemsDiagnosis } from '../explain/finding.ts';
import type {
  NothingCheckedDiagnosis,
  PendingDiagnosis,
  RuleDiagnosis,
  UnawaitedDiagnosis,
  UncheckedDiagnosis,
  UnusedPlanDiagnosis,
} from '../explain/rule-finding.ts';
import { printCall } from '../notation/call.ts';
import { shortValue } from '../notation/value.ts';
import { printChange, printDifference } from './difference-words.ts';
import { unclaimedMessage } from './order-message.ts';
import { count, named, placed } from './words.ts';

/** The sentence that tells what a rule found. */
export function ruleMessage(diagnosis: RuleDiagnosis): string {
  switch (diagnosis.code) {
    case 'unclaimedCall':
      return unclaimedMessage(diagnosis);
    case 'unusedPlan':
      return unusedMessage(diagnosis);
    case 'unfinishedCall':
    case 'stillPending':
      return pendingMessage(diagnosis);
    case 'uncheckedClaim':
      return uncheckedMessage(diagnosis);
    case 'unawaitedReach':
      return unawaitedMessage(diagnosis);
    case 'nothingChecked':
      return nothingMessage(diagnosis);
    case 'changedArgument': {
      const [first] = diagnosis.changes;
      const where = first === undefined ? '' : `: ${printChange(first).join(', ')}`;
      return `an argument of ${named(diagnosis.entry)} was changed after the call${where}`;
    }
    case 'callAfterClose':
      return `${printCall(diagnosis.entry)} came when ledger "${diagnosis.ledger}" was closed${placed(diagnosis.entry.site)}: its test had ended, and did not wait for it`;
    case 'failedStream':
      return `the stream ${diagnosis.entry.label} failed with ${shortValue(diagnosis.entry.args[0], 120)}, and no claim speaks of that`;
    case 'notReleased':
      return `the stream ${diagnosis.stream} could not be ended: ${shortValue(diagnosis.reason, 120)}`;
  }
}

function unusedMessage({
  plan,
  plannedAt,
  calls,
  nearest,
  member,
  shadowed,
}: UnusedPlanDiagnosis): string {
  const which = `plan ${plan}${placed(plannedAt)} answered no call`;
  if (calls === 0) return `${which}: ${member} was never called`;
  if (shadowed) return `${which}: a newer plan answers all that it could`;
  const [near] = nearest;
  return near === undefined
    ? which
    : `${which}; nearest is ${named(near.entry)}: ${near.differences
        .slice(0, 2)
        .map((each) => printDifference(each))
        .join('; ')}`;
}

function pendingMessage({ pending, code }: PendingDiagnosis): string {
  const [first] = pending;
  if (first === undefined) return 'nothing is pending';
  const rest = pending.length > 1 ? ` (and ${pending.length - 1} more)` : '';
  return code === 'unfinishedCall'
    ? `the promise of ${named(first.entry)} never settled${rest}`
    : `${named(first.entry)} is still pending${rest}`;
}

function uncheckedMessage({ is, written }: UncheckedDiagnosis): string {
  const [first] = written;
  const what = `${first?.notation}${placed(first?.at)}`;
  const rest = written.length > 1 ? ` (and ${written.length - 1} more)` : '';
  return is === 'pattern'
    ? `the pattern ${what} was written, and nothing uses it${rest}`
    : `${what} was written and never judged${rest}: hand it to check()`;
}

function unawaitedMessage({ word, waited, state, at }: UnawaitedDiagnosis): string {
  const how = {
    open: 'it had not come to an end when the test did',
    held: 'what came after it in the test did not wait',
    failed: 'it failed, and the test went on',
  }[state];
  return `${word}(${waited})${placed(at)} was not awaited: ${how}`;
}

function nothingMessage(diagnosis: NothingCheckedDiagnosis): string {
  const { calls, entry, streams, early, bare, at } = diagnosis;
  const what =
    entry === undefined
      ? `stream ${streams.join(', ')}${placed(at)} is followed and gave nothing`
      : `${count(calls, 'entry', 'entries')} recorded, the first ${named(entry)}`;
  if (early > 0) {
    const before = early === 1 ? '1 claim was judged' : `${early} claims were judged, all of them`;
    return `${what}, and ${before} before anything was called`;
  }
  const pattern =
    bare === undefined
      ? ''
      : `; ${bare.notation}${placed(bare.at)} is a pattern, and claims nothing`;
  return `${what}, and no claim was judged${pattern}`;
}

/** The sentence for a stream that gave other items than claimed. */
export function itemsMessage(diagnosis: ItemsDiagnosis): string {
  const { differences, items, claimedItems, culprits } = diagnosis;
  const [first] = differences;
  const told = first === undefined ? '' : printDifference(first);
  const rest = differences.length > 1 ? ` (and ${differences.length - 1} more)` : '';
  const culprit = items.find(({ id }) => id === culprits[0]);
  const which = culprit === undefined ? '' : ` in ${named(culprit)}`;
  return `${count(items.length, 'item')} of ${claimedItems}${endedPart(diagnosis)}: ${told}${which}${rest}`;
}

/** How a stream ended, where it did. */
export function endedPart({ ended }: ItemsDiagnosis): string {
  if (ended === undefined) return ', and it has not ended';
  return ended.kind === 'end'
    ? `, and then it ended (#${ended.id})`
    : `, and then it failed (#${ended.id}) with ${shortValue(ended.args[0], 80)}`;
}
