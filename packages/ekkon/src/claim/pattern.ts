import { anyRest, type Rest } from '../match/anything.ts';
import type { Fit } from '../match/compare.ts';
import {
  argumentsFit,
  type ClaimedArguments,
  compareArguments,
} from '../match/compare-arguments.ts';
import type { Difference } from '../match/difference.ts';
import type { Context, Matcher, Wide } from '../match/matcher.ts';
import { printArguments } from '../notation/call.ts';
import { shortValue } from '../notation/value.ts';
import { type Copies, copyList, copyOf, originalOf } from '../record/copy.ts';
import type { Entry } from '../record/entry.ts';
import type { HeldEntry, Member, Tied } from '../record/ledger-record.ts';
import { isOwn, ownPrinting, type printsAs } from '../record/prints-as.ts';
import { refuse } from '../record/refuse.ts';
import { tied } from '../record/tie.ts';
import { noteWritten } from '../record/written.ts';

declare const event: unique symbol;

type Method = (...args: never[]) => unknown;
type Class = abstract new (...args: never[]) => unknown;

/** Moments in a record: the beginnings or the ends of some calls. */
export interface EventPattern {
  readonly [event]: true;
}

/** Which calls: a member and, optionally, the arguments. */
export interface CallPattern<A extends readonly unknown[], R> extends EventPattern {
  readonly of: 'call';
  readonly args?: A;
  readonly result?: R;
}

interface FittingList<E> extends ReadonlyArray<Fitting<E>> {}

/** A value as it may be claimed: itself, a matcher, or either at any depth. */
export type Fitting<T> =
  | T
  | Matcher<Wide<T>>
  | (T extends Method
      ? never
      : T extends readonly (infer E)[]
        ? number extends T['length']
          ? FittingList<E>
          : { readonly [K in keyof T]: Fitting<T[K]> }
        : T extends object
          ? { readonly [K in keyof T]: Fitting<T[K]> }
          : never);

type Fittings<A extends readonly unknown[]> =
  | { readonly [K in keyof A]: Fitting<A[K]> }
  | FittingsThenRest<A>;

type FittingsThenRest<A extends readonly unknown[]> =
  | readonly [Rest]
  | (A extends readonly [(infer H)?, ...infer T]
      ? number extends A['length']
        ? A extends readonly [infer H2, ...infer T2]
          ? readonly [Fitting<H2>, ...FittingsThenRest<T2>]
          : readonly [...Fitting<A[number]>[], Rest]
        : A extends readonly []
          ? never
          : readonly [Fitting<H>, ...FittingsThenRest<T>]
      : never);

type Overloads<F> = F extends {
  (...a: infer A1): infer R1;
  (...a: infer A2): infer R2;
  (...a: infer A3): infer R3;
  (...a: infer A4): infer R4;
  (...a: infer A5): infer R5;
  (...a: infer A6): infer R6;
  (...a: infer A7): infer R7;
  (...a: infer A8): infer R8;
  (...a: infer A9): infer R9;
  (...a: infer A10): infer R10;
}
  ?
      | [A1, R1]
      | [A2, R2]
      | [A3, R3]
      | [A4, R4]
      | [A5, R5]
      | [A6, R6]
      | [A7, R7]
      | [A8, R8]
      | [A9, R9]
      | [A10, R10]
  : F extends (...a: infer A) => infer R
    ? [A, R]
    : never;

type ArgsOf<F> = F extends Method
  ? Overloads<F>[0] extends readonly unknown[]
    ? Overloads<F>[0]
    : never
  : F extends abstract new (
        ...a: infer A
      ) => unknown
    ? A
    : never;

type ResultOf<F> = F extends Method
  ? Overloads<F>[1]
  : F extends abstract new (
        ...a: never[]
      ) => infer R
    ? R
    : never;

type FittingsOfEach<A> = A extends readonly unknown[] ? Fittings<A> : never;

/** A call pattern behind its public type. */
export interface HeldPattern {
  readonly of: 'call' | 'read' | 'write' | 'item' | 'end' | 'failure';
  readonly member: Member;
  /** `undefined`: any arguments. */
  readonly claimed: ClaimedArguments | undefined;
  /** As reports and claims files write it. */
  readonly [printsAs]: string;
}

/**
 * Says which calls are meant: those of a member, with any arguments or with these.
 *
 * The arguments are a tuple of plain values, compared deeply, and matchers, at any depth. They are
 * copied now. Any overload of the member may be met.
 *
 * @param member a member of a stand-in, or a callable: `dome.open`, not `dome.open()`
 * @param args left out: any arguments; `[]`: exactly none
 * @throws TypeError where no ledger records the member
 * @example
 * check(once(call(camera.expose, [{ seconds: 30, filter: anything }])));
 */
export function call<F extends Method | Class | undefined>(
  member: F,
  args?: FittingsOfEach<ArgsOf<NonNullable<F>>>,
): CallPattern<ArgsOf<NonNullable<F>>, ResultOf<NonNullable<F>>>;
export function call<A extends readonly unknown[], R>(
  member: (...args: A) => R,
  args?: Fittings<A>,
): CallPattern<A, R>;
export function call(
  member: unknown,
  args?: readonly unknown[],
): CallPattern<readonly unknown[], unknown> {
  const held = tied(member);
  if (held?.is !== 'member') refuse(notRecorded(member, held), call);
  if (args !== undefined && !Array.isArray(args)) {
    refuse(
      `call(${held.label}, …) takes the arguments as a list, and was given ${shortValue(args)}. Write call(${held.label}, [${shortValue(args)}]).`,
      call,
    );
  }
  const claimed = args === undefined ? undefined : claimedArguments(held, args);
  const pattern: HeldPattern = makeCallPattern({ of: 'call', member: held, claimed });
  const made = noteWritten(held.record, 'pattern', pattern, call);
  return made as unknown as CallPattern<readonly unknown[], unknown>;
}

const makeCallPattern = ownPrinting<Omit<HeldPattern, typeof printsAs>>(({ member, claimed }) =>
  claimed === undefined
    ? member.label
    : `${member.label}(${printArguments(claimed.items, claimed.rest)})`,
);

function claimedArguments(member: Member, args: readonly unknown[]): ClaimedArguments {
  const rest = args[args.length - 1] === anyRest;
  const given = rest ? args.slice(0, -1) : args;
  if (given.includes(anyRest)) {
    refuse(
      `call(${member.label}, …): anyRest stands for all further arguments, so it comes last.`,
      call,
    );
  }
  const { values: items, copies } = copyList(given, member.record);
  const stranger = strangerIn(items, copies, member);
  if (stranger !== undefined) {
    refuse(
      `call(${member.label}, …): ledger "${member.record.name}" records ${member.label}, and ${stranger.what} among the arguments belongs to ledger "${stranger.ledger}". A claim speaks of one ledger: hand out both doubles by the same one.`,
      call,
    );
  }
  return { items, rest };
}

/** The first double of another ledger among claimed arguments, at any depth of plain values. */
function strangerIn(
  items: readonly unknown[],
  copies: Copies,
  member: Member,
): { readonly what: string; readonly ledger: string } | undefined {
  const parts: object[] = [items];
  for (let made = copies; made !== undefined; made = made.next) parts.push(made.copy);
  for (const value of parts.flatMap((part) => Object.values(part))) {
    const held = tied(value);
    if (held !== undefined && held.record !== member.record)
      return { what: shortValue(value), ledger: held.record.name };
  }
  return undefined;
}

function notRecorded(member: unknown, held: Tied | undefined): string {
  const example = 'call(dome.open), where dome came from ledger.standIn';
  if (held?.is === 'double') {
    return `call() was given the stand-in ${held.name} as a whole. Name one of its members: call(${held.name}.open).`;
  }
  if (held?.is === 'stream') {
    return `call() was given the stream ${held.name}, which is not called. Write item(${held.name}), completed(${held.name}) or failed(${held.name}).`;
  }
  if (held?.is === 'ledger')
    return `call() was given a ledger. Name a member of a double: ${example}.`;
  if (member === undefined) {
    return `call() was given undefined. Name the member itself and do not call it: ${example}.`;
  }
  return `call() was given ${shortValue(member)}, which no ledger records. Name a member of a stand-in or a callable: ${example}.`;
}

/** The pattern behind its public type; `undefined` where the value is none. */
export function patternOf(value: unknown): HeldPattern | undefined {
  return isOwn(value) && 'of' in value && 'member' in value
    ? (value as unknown as HeldPattern)
    : undefined;
}

/** An entry as a ledger holds it, or as it was read from a file. */
export type JudgedEntry = Entry | HeldEntry;

/** Whether an entry is of the member that a pattern speaks of, whatever its arguments. */
export function speaksOf({ of, member }: HeldPattern, { label, kind }: JudgedEntry): boolean {
  return label === member.label && (kind === of || (of === 'call' && kind === 'construct'));
}

/** Whether an entry is one of the calls meant. */
export function entryFit(pattern: HeldPattern, entry: JudgedEntry): Fit {
  const { member, claimed } = pattern;
  if (!speaksOf(pattern, entry)) return 'differs';
  return claimed === undefined
    ? 'fits'
    : argumentsFit(claimed, entry.args, contextOf(entry, member));
}

/** How an entry's arguments differ from those of a pattern. */
export function entryDifferences(
  { member, claimed }: HeldPattern,
  entry: JudgedEntry,
): readonly Difference[] {
  return claimed === undefined
    ? []
    : compareArguments(claimed, entry.args, contextOf(entry, member));
}

/** Made for every entry judged, and hardly ever asked: an object with nothing to set up. */
interface EntryContext extends Context {
  readonly entry: JudgedEntry;
  readonly member: Member;
}

/** How matchers look into what an entry recorded. */
export function contextOf(entry: JudgedEntry, member: Member): EntryContext {
  return { entry, member, originalOf: originalInEntry, look: lookAsMember };
}

function originalInEntry(this: EntryContext, copy: object): object | undefined {
  return originalIn(this.entry, copy);
}

/** What an entry's copy was made from. */
export function originalIn(entry: JudgedEntry, copy: object): object | undefined {
  return originalOf('copies' in entry ? entry.copies : undefined, copy);
}

function lookAsMember(this: EntryContext, instance: object): unknown {
  return copyOf(instance, this.member.record);
}
