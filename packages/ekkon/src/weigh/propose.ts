import type { RecordAlteration } from '../alter/alterations.ts';
import type { HeldClaim } from '../claim/kinds.ts';
import { claimOf } from '../claim/kinds.ts';
import { noteClaimUsed } from '../claim/make-claim.ts';
import { NotationError } from '../grammar/notation-error.ts';
import { claimsIn } from '../grammar/parse-claims.ts';
import { anything } from '../match/anything.ts';
import { sameValues } from '../match/same-value.ts';
import { printTarget } from '../notation/label.ts';
import { inFull, printClaimed } from '../notation/value.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import { intrinsics } from '../value/intrinsics.ts';
import { kindOf } from '../value/kind.ts';
import { isIdentifier } from '../value/names.ts';
import type { Lanes } from './lanes.ts';
import type { Replies } from './replies.ts';

/** A claim to add: in the notation, as code for a test, and itself. */
export interface Proposal {
  readonly text: string;
  readonly code: string;
  readonly claim: HeldClaim;
}

/** Writes claims that may notice an alteration, the most telling first. */
export type Proposer = (altered: RecordAlteration) => readonly Proposal[];

/** The input for writing claims. */
export interface Writing {
  readonly journal: Journal;
  readonly replies: Replies;
  readonly lanes: Lanes;
}

export function makeProposer(writing: Writing): Proposer {
  const known = new Map<string, Proposal | undefined>();
  const read = ({ text, code }: Written): Proposal | undefined => {
    if (!known.has(text)) {
      const claim = claimIn(writing.journal, text);
      known.set(text, claim && { text, code, claim });
    }
    return known.get(text);
  };
  return (altered) =>
    inFull(() => written(writing, altered)).flatMap((each) => {
      const proposal = read(each);
      return proposal === undefined ? [] : [proposal];
    });
}

interface Written {
  readonly text: string;
  readonly code: string;
}

function written(writing: Writing, altered: RecordAlteration): readonly Written[] {
  const { alteration, entry, waitedFor } = altered;
  if (alteration === 'move')
    return waitedFor === undefined ? [] : orders(writing, entry, waitedFor);
  const all = writing.journal.entries.filter((other) => isOfMember(other, entry));
  const alike = all.filter((other) => sameValues(other.args, entry.args)).length;
  const exact = patternOf(entry);
  if (alteration === 'outcome') return outcomes(entry, exact, alike);
  const { replies } = writing;
  if (replies.isQuery(entry)) {
    // How often it asks is its own choice: other claims cover the use of the reply.
    return alteration === 'argument' && replies.isAnsweredAlike(entry) ? [atLeastOnce(exact)] : [];
  }
  const each = [...sequence(all, writing.lanes), counted(alike, exact)];
  return alteration === 'argument' ? each : [...each, counted(all.length, anyOf(entry))];
}

function isOfMember(other: HeldEntry, entry: HeldEntry): boolean {
  return other.target === entry.target && other.kind === entry.kind;
}

function counted(count: number, { text, code }: Written): Written {
  return count === 1
    ? { text: `once ${text}`, code: `once(${code})` }
    : { text: `times ${count} ${text}`, code: `times(${count}, ${code})` };
}

function atLeastOnce({ text, code }: Written): Written {
  return { text: `times 1..* ${text}`, code: `times('1..*', ${code})` };
}

/** Nobody would add a claim with more steps, or with a longer text. */
const stepsProposed = 12;
const lettersProposed = 700;

/** All that one member did, in order as far as its order is certain. */
function sequence(entries: readonly HeldEntry[], lanes: Lanes): readonly Written[] {
  if (entries.length < 2 || entries.length > 4 * stepsProposed) return [];
  const groups = lanes.grouped(entries).map(repeatedIn);
  const parts = joined(groups).map((group) => {
    const steps = group.map(asStep);
    return steps.length === 1 && steps[0] !== undefined ? steps[0] : inAnyOrder(steps);
  });
  const text = `in turn ${parts.map((part) => part.text).join(' › ')}`;
  const isShort = groups.flat().length <= stepsProposed && text.length <= lettersProposed;
  const isOne = parts.length === 1 && groups[0]?.length === 1;
  return isShort && !isOne
    ? [{ text, code: `inTurn(${parts.map(({ code }) => code).join(', ')})` }]
    : [];
}

/** The same call, some times. */
interface Repeated {
  readonly exact: Written;
  readonly count: number;
}

/** Calls that are alike as one, in the order in which they came first. */
function repeatedIn(entries: readonly HeldEntry[]): readonly Repeated[] {
  const found = new Map<string, Repeated>();
  for (const exact of entries.map(patternOf)) {
    const count = (found.get(exact.text)?.count ?? 0) + 1;
    found.set(exact.text, { exact, count });
  }
  return [...found.values()];
}

/** Groups of one call each that follow on another such group of the same call are one. */
function joined(groups: readonly (readonly Repeated[])[]): readonly (readonly Repeated[])[] {
  const found: (readonly Repeated[])[] = [];
  for (const group of groups) {
    const [before, [one]] = [found.at(-1), group];
    const [last] = before ?? [];
    const isSame =
      before?.length === 1 && group.length === 1 && last?.exact.text === one?.exact.text;
    if (!isSame || last === undefined || one === undefined) found.push(group);
    else found[found.length - 1] = [{ ...last, count: last.count + one.count }];
  }
  return found;
}

function asStep({ exact: { text, code }, count }: Repeated): Written {
  return count === 1
    ? { text, code }
    : { text: `${count} ${text}`, code: `loop(${count}, ${code})` };
}

function inAnyOrder(steps: readonly Written[]): Written {
  return {
    text: `in any order (${steps.map(({ text }) => text).join(' & ')})`,
    code: `inAnyOrder(${steps.map(({ code }) => code).join(', ')})`,
  };
}

/**
 * Claims that an entry comes only after its trigger. If nothing else was under way, the most general claim comes
 * first, because it notices most. Beside other work, another order would be right too, unless the entry received
 * something of the reply.
 */
function orders(
  { lanes, replies }: Writing,
  entry: HeldEntry,
  before: HeldEntry,
): readonly Written[] {
  const exact = patternOf(entry);
  const [waited, any] = [patternOf(before), anyOf(entry)];
  const never = (from: Written, inner: Written): Written => ({
    text: `after ${from.text} until settled ${from.text}: never ${inner.text}`,
    code: `during({ from: ${from.code}, until: settled(${from.code}) }, never(${inner.code}))`,
  });
  const { state } = before.outcome;
  const onlyAfter = {
    text: `${exact.text} only after ${state} ${waited.text}`,
    code: `onlyAfter(${exact.code}, ${state}(${waited.code}))`,
  };
  if (lanes.isShared(before) || lanes.isShared(entry))
    return replies.flows(before, entry) ? [onlyAfter] : [];
  return [never(anyOf(before), any), never(waited, any), never(waited, exact), onlyAfter];
}

function outcomes({ outcome }: HeldEntry, exact: Written, alike: number): readonly Written[] {
  if (outcome.state === 'running' || outcome.state === 'pending') return [];
  const held = 'value' in outcome ? outcome.value : outcome.reason;
  const ended = (value: Written): Written => ({
    text: `${outcome.state} ${exact.text}${value.text}`,
    code: `${outcome.state}(${exact.code}${value.code})`,
  });
  const shown = writtenValue(held);
  const value = { text: ` with ${shown}`, code: `, ${shown}` };
  return [counted(alike, ended(value))];
}

/** The calls of an entry's member with its arguments: those that are not data may be anything. */
function patternOf(entry: HeldEntry): Written {
  const { kind, args, target } = entry;
  const [label, member] = [printTarget(target), codeOf(entry)];
  const values = args.map(writtenValue);
  if (kind === 'write') {
    const [value = 'anything'] = values;
    const { object, key } = propertyOf(entry);
    return { text: `writes ${label} with ${value}`, code: `writes(${object}, ${key}, ${value})` };
  }
  if (args.length === 0) return { text: `${label}(no arguments)`, code: `call(${member}, [])` };
  return {
    text: `${label}(${values.join(', ')})`,
    code: `call(${member}, [${values.join(', ')}])`,
  };
}

/** The calls of an entry's member, whatever their arguments. */
function anyOf(entry: HeldEntry): Written {
  const label = printTarget(entry.target);
  if (entry.kind !== 'write') return { text: label, code: `call(${codeOf(entry)})` };
  const { object, key } = propertyOf(entry);
  return { text: `writes ${label}`, code: `writes(${object}, ${key})` };
}

/** A member as code: `camera.expose`, `log["night log"]`. */
function codeOf({ target: { double, keys } }: HeldEntry): string {
  return `${nameOf(double)}${keys.map(keyCode).join('')}`;
}

function propertyOf({ target: { double, keys } }: HeldEntry): {
  readonly object: string;
  readonly key: string;
} {
  const last = keys.at(-1) ?? '';
  const object = `${nameOf(double)}${keys.slice(0, -1).map(keyCode).join('')}`;
  return {
    object,
    key: typeof last === 'symbol' ? symbolCode(last) : intrinsics.stringify(String(last)),
  };
}

/** The variable that a test may well call a double by. */
function nameOf(double: string): string {
  const plain = double.replace(/[^\p{ID_Continue}$]+/gu, '_');
  return isIdentifier(plain) ? plain : `_${plain}`;
}

function keyCode(key: PropertyKey): string {
  if (typeof key === 'symbol') return `[${symbolCode(key)}]`;
  const name = String(key);
  return isIdentifier(name) ? `.${name}` : `[${intrinsics.stringify(name)}]`;
}

function symbolCode(key: symbol): string {
  const shared = Symbol.keyFor(key);
  return shared === undefined
    ? (key.description ?? 'symbol')
    : `Symbol.for(${intrinsics.stringify(shared)})`;
}

/**
 * A recorded value as a test would write it: data as it is, an instance by its content, and `anything` in place of a
 * value without a written form, or one too long to add.
 */
function claimable(value: unknown, budget = { objects: objectsProposed }, level = 0): unknown {
  if (typeof value === 'function' || typeof value === 'symbol') return anything;
  if (typeof value !== 'object' || value === null) return value;
  const kind = kindOf(value);
  if (kind === 'date') return value;
  if (level > levelsWritten || --budget.objects < 0) return anything;
  if (Object.getOwnPropertySymbols(value).length > 0) return anything;
  if (kind === 'array') {
    const items = value as readonly unknown[];
    return Object.keys(items).length === items.length
      ? items.map((item) => claimable(item, budget, level + 1))
      : anything;
  }
  if (kind !== 'plain' && kind !== 'instance') return anything;
  const pairs = Object.entries(value).map(([key, held]) => [
    key,
    claimable(held, budget, level + 1),
  ]);
  return pairs.length === 0 && kind === 'instance' ? anything : Object.fromEntries(pairs);
}

const levelsWritten = 20;

/** Nobody would add a claim on more objects than this. */
const objectsProposed = 200;

function writtenValue(value: unknown): string {
  return printClaimed(claimable(value));
}

/** A claim from its text; `undefined` if it has no written form after all. */
function claimIn(journal: Journal, text: string): HeldClaim | undefined {
  try {
    const [claim] = claimsIn(text, journal);
    const held = claimOf(claim);
    // It is only tried, so it does not count as one that was written and never judged.
    if (held !== undefined) noteClaimUsed(held);
    return held;
  } catch (error) {
    if (error instanceof NotationError) return undefined;
    throw error;
  }
}
