import { anyRest } from '../match/anything.ts';
import type { ClaimedArguments } from '../match/compare-arguments.ts';
import { matchingOf } from '../match/matcher.ts';
import { printTarget } from '../notation/label.ts';
import { printClaimed, shortValue } from '../notation/value.ts';
import { type Member, nameOf, type Tied } from '../record/member.ts';
import { noteWritten } from '../record/slip.ts';
import { tied } from '../record/tie.ts';
import type { Below } from '../value/below.ts';
import { copyClaimedList } from '../value/claimed-copy.ts';
import type { Copies } from '../value/copy.ts';
import { kindOf } from '../value/kind.ts';
import { isOwn, ownPrinting, type printsAs } from '../value/prints-as.ts';
import { refuse } from '../value/refuse.ts';
import { takesOnly } from '../value/takes-only.ts';
import { bothNames } from './as-pattern.ts';
import type { HeldPattern } from './event.ts';
import type {
  AnyCalls,
  ArgsOf,
  CallPattern,
  Class,
  FittingsOfEach,
  Method,
  ResultOf,
} from './types.ts';

/**
 * Selects the calls of a member: with any arguments, or with these.
 *
 * The arguments are a list of plain values, which are compared deeply, and matchers at any depth. They are copied at
 * once. For a member with overloads, those of any overload will do.
 *
 * @param member a member of a stand-in, or a callable: `dome.open`, not `dome.open()`
 * @param args the expected arguments; `[]`: exactly none. Default: any
 * @throws TypeError if no ledger records the member
 * @example
 * check(once(call(camera.expose, [partial({ seconds: 30, filter: anything })])));
 */
export function call<F extends Method | Class | undefined>(
  member: F,
  args?: FittingsOfEach<ArgsOf<NonNullable<F>>>,
): CallPattern<ArgsOf<NonNullable<F>>, ResultOf<NonNullable<F>>>;
export function call(member: unknown, args?: readonly unknown[]): AnyCalls {
  takesOnly(2, arguments, call);
  const held = tied(member);
  if (held?.is !== 'member') refuse(notRecorded(member, held), call);
  const { label } = held.target;
  if (args !== undefined && !Array.isArray(args)) {
    refuse(
      `call(${label}, …) takes the arguments as a list, and was given ${shortValue(args)}. Write call(${label}, [${shortValue(args)}]).`,
      call,
    );
  }
  const claimed = args === undefined ? undefined : claimedArguments(held, args);
  const pattern: HeldPattern = makeCallPattern({ of: 'call', member: held, claimed });
  return noteWritten(held.journal, 'pattern', pattern, call) as unknown as AnyCalls;
}

const makeCallPattern = ownPrinting<Omit<HeldPattern, typeof printsAs>>(({ member, claimed }) => {
  const label = printTarget(member.target);
  if (claimed === undefined) return label;
  const said = [...claimed.items.map(printClaimed), ...(claimed.rest ? ['anyRest'] : [])].join(
    ', ',
  );
  return `${label}(${said === '' ? 'no arguments' : said})`;
});

function claimedArguments(member: Member, args: readonly unknown[]): ClaimedArguments {
  const { journal, target } = member;
  const rest = args[args.length - 1] === anyRest;
  const given = rest ? args.slice(0, -1) : args;
  const { values: items, copies } = copyClaimedList(given, journal);
  refuseRest([given, ...partsOf(copies)], call);
  const stranger = strangerIn([items, ...partsOf(copies)], member);
  if (stranger !== undefined) {
    refuse(
      `call(${target.label}, …): ${target.label} and ${nameOf(stranger)} among its arguments belong to two ledgers, ${bothNames(journal, stranger.journal)}. A claim is about one ledger: make both doubles with the same ledger.`,
      call,
    );
  }
  return { items, rest };
}

/** Copies a claimed value, in which nothing can stand for further arguments. */
export function claimedValues(
  values: readonly unknown[],
  member: Member,
  below: Below,
): readonly unknown[] {
  const { values: copied, copies } = copyClaimedList(values, member.journal);
  refuseRest([values, ...partsOf(copies)], below);
  return copied;
}

/** Refuses the marker for further arguments anywhere but at the end of an argument list. */
function refuseRest(parts: readonly object[], below: Below): void {
  if (!parts.some((part) => Object.values(part).some((each) => holdsRest(each)))) return;
  refuse(
    `${below.name}(…): anyRest stands for all further arguments, so it must be the last item of an argument list: call(log.write, ['night', anyRest]). For one value write anything.`,
    below,
  );
}

/** Whether a value is the marker for further arguments, or a matcher that contains it. */
function holdsRest(value: unknown, seen: Set<unknown> = new Set()): boolean {
  if (value === anyRest) return true;
  if (isRevoked(value)) return false;
  return matchingOf(value)?.parameters.some((each) => holdsRestWithin(each, seen)) ?? false;
}

function holdsRestWithin(parameter: unknown, seen: Set<unknown>): boolean {
  if (typeof parameter !== 'object' || parameter === null || seen.has(parameter)) return false;
  seen.add(parameter);
  if (isRevoked(parameter)) return false;
  if (holdsRest(parameter, seen)) return true;
  // A matcher's parameter by reference is not one of its expectations.
  const isData = !isOwn(parameter) && ['plain', 'array', 'instance'].includes(kindOf(parameter));
  return isData && Object.values(parameter).some((each) => holdsRestWithin(each, seen));
}

/** Whether a value is a proxy that cannot be asked anything any more. */
function isRevoked(value: unknown): boolean {
  try {
    if (typeof value === 'object' && value !== null) Object.getPrototypeOf(value);
    return false;
  } catch {
    return true;
  }
}

function partsOf(copies: Copies): readonly object[] {
  const parts: object[] = [];
  for (let made = copies; made !== undefined; made = made.next) parts.push(made.copy);
  return parts;
}

/** The first double of another ledger among claimed values, at any depth of plain values. */
function strangerIn(parts: readonly object[], { journal }: Member): Tied | undefined {
  for (const value of parts.flatMap((part) => Object.values(part))) {
    const held = tied(value);
    if (held !== undefined && held.journal !== journal) return held;
  }
  return undefined;
}

const functionsOwn: ReadonlySet<unknown> = new Set([
  Function.prototype.call,
  Function.prototype.apply,
  Function.prototype.bind,
]);

function notRecorded(member: unknown, held: Tied | undefined): string {
  const example = 'call(dome.open), if dome came from ledger.standIn';
  switch (held?.is) {
    case 'double':
      return `call() was given the stand-in ${held.name} as a whole. Name one of its members: call(${held.name}.open).`;
    case 'stream':
      return `call() was given the stream ${held.name}, which is not called. Write item(${held.name}), completed(${held.name}) or failed(${held.name}).`;
    case 'ledger':
      return `call() was given a ledger. Name a member of a double: ${example}.`;
    default:
      if (functionsOwn.has(member))
        return `call() was given ${(member as { readonly name: string }).name}, which every function has for itself and no ledger records. Name the member that it was taken from: ${example}.`;
      return member === undefined
        ? `call() was given undefined. Name the member itself and do not call it: ${example}. What is read, and not called, is claimed with reads(dome, 'position'). A stand-in has no members that frameworks ask for (then, lift, names that begin with _ or $) unless they are named: { also: ['lift'] }.`
        : `call() was given ${shortValue(member)}, which no ledger records. Name a member of a stand-in or a callable: ${example}.`;
  }
}
