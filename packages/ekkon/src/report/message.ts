import { printRange } from '../claim/multiplicity.ts';
import type {
  CountDiagnosis,
  Diagnosis,
  DriftDiagnosis,
  VacuousDiagnosis,
} from '../explain/finding.ts';
import type { Difference } from '../match/difference.ts';
import { printCall } from '../notation/call.ts';
import { printPath } from '../notation/value.ts';
import type { Entry } from '../record/entry.ts';
import { isMemberOf } from '../record/member.ts';
import { opaqueBecause, printDifference } from './difference-words.ts';
import {
  inFlightMessage,
  orderMessage,
  precedenceMessage,
  unclaimedMessage,
} from './order-message.ts';
import { itemsMessage, ruleMessage } from './rule-message.ts';
import { count, named, placed } from './words.ts';

/** The sentence that tells a diagnosis: enough on its own to know which call was wrong, and where. */
export function messageOf(diagnosis: Diagnosis): string {
  switch (diagnosis.code) {
    case 'surplusCall':
      return surplusMessage(diagnosis);
    case 'missingCall':
      return missingMessage(diagnosis);
    case 'undecidedCall':
      return undecidedMessage(diagnosis);
    case 'unplannedCall':
      return `no plan fits ${printCall(diagnosis.entry)}${placed(diagnosis.entry.site)}`;
    case 'unknownMember':
      return `${diagnosis.type ?? 'its class'} has no such member, and ${printCall(diagnosis.entry)} was called${placed(diagnosis.entry.site)}`;
    case 'changedSlot':
      return `${diagnosis.member} was changed by somebody else meanwhile, and is left as it is now`;
    case 'drift':
      return driftMessage(diagnosis);
    case 'outOfOrder':
      return orderMessage(diagnosis);
    case 'tooEarly':
    case 'neverFollowed':
      return precedenceMessage(diagnosis);
    case 'inFlight':
      return inFlightMessage(diagnosis);
    case 'unclaimedEntries':
      return unclaimedMessage(diagnosis);
    case 'inexactItems':
      return itemsMessage(diagnosis);
    case 'vacuousClaim':
      return vacuousMessage(diagnosis);
    default:
      return ruleMessage(diagnosis);
  }
}

function vacuousMessage({ never, untouched }: VacuousDiagnosis): string {
  if (untouched === undefined) return `it holds for no reason: ${never} never occurred`;
  const { double, alike } = untouched;
  return alike.length === 0
    ? `it holds for no reason: nothing was recorded of ${double}, and no claim shows that anything was; was it handed over?`
    : `it holds for no reason: nothing was recorded of ${double}, while ${alike.join(', ')} was called, another double of that name`;
}

function surplusMessage({ fitting, range, culprits }: CountDiagnosis): string {
  const first = fitting.find((entry) => entry.id === culprits[0]);
  const which = first === undefined ? '' : ` ${named(first)}`;
  if (range.most === 0) return `${count(fitting.length, 'call')}; the first is${which}`;
  return `${count(fitting.length, 'call')} where ${printRange(range)} claimed; one too many is${which}`;
}

function undecidedMessage({ fitting, nearest }: CountDiagnosis): string {
  const [near] = nearest;
  const [difference] = near?.differences ?? [];
  const because =
    difference === undefined
      ? ''
      : ` (${printPath(difference.path)}: ${opaqueBecause(difference)})`;
  return `${count(fitting.length, 'call')} for sure, and it cannot be told of ${near === undefined ? 'some' : named(near.entry)}${because}`;
}

function missingMessage(diagnosis: CountDiagnosis): string {
  const { fitting, range, nearest, elsewhere, member } = diagnosis;
  const found =
    fitting.length === 0
      ? 'no call fits'
      : `${count(fitting.length, 'call')} where ${printRange(range)} claimed`;
  const [other] = elsewhere;
  if (other !== undefined) return `${found}; the same arguments went to ${named(other)}`;
  const [near] = nearest;
  if (near !== undefined)
    return `${found}; nearest is ${named(near.entry)}: ${inShort(near.differences)}`;
  if (fitting.length > 0)
    return `${found}; the last is ${named(fitting[fitting.length - 1] as Entry)}`;
  return `${member} was never called${insteadOf(diagnosis)}`;
}

/** How many differences the sentence tells before the rest is counted. */
const differencesTold = 2;

function inShort(differences: readonly Difference[]): string {
  const told = differences.slice(0, differencesTold).map(printDifference);
  const rest = differences.length - told.length;
  return [...told, ...(rest > 0 ? [`… ${rest} more`] : [])].join('; ');
}

function insteadOf({ instead, double }: CountDiagnosis): string {
  const siblings = siblingsAmong(instead, double);
  if (siblings.length > 0)
    return `; ${double === '' ? '' : `of ${double} `}only ${tallies(siblings)}`;
  return instead.length === 0 ? '; nothing at all was' : `; nothing of ${double} was`;
}

/** Of what was called instead, the members of a double; of an object without a name, nobody can tell. */
export function siblingsAmong(
  instead: CountDiagnosis['instead'],
  double: string,
): CountDiagnosis['instead'] {
  return double === '' ? instead : instead.filter(({ label }) => isMemberOf(label, double));
}

/** `dome.open ×1, dome.close ×2`. */
export function tallies(
  list: readonly { readonly label: string; readonly calls: number }[],
): string {
  const shown = list.slice(0, 8).map(({ label, calls }) => `${label} ×${calls}`);
  return [...shown, ...(list.length > 8 ? [`… ${list.length - 8} more`] : [])].join(', ');
}

function driftMessage({ drifts }: DriftDiagnosis): string {
  const [first] = drifts;
  const rest = drifts.length > 1 ? ` (and ${drifts.length - 1} more)` : '';
  return first === undefined ? 'it has drifted' : `${printDrift(first)}${rest}`;
}

/** One drift in a line: what the double was used as, and what the real one is. */
export function printDrift({ member, double, real }: DriftDiagnosis['drifts'][number]): string {
  return `${member}: the double ${double}, the real one ${real}`;
}
