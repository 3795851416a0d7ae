import type { Journal } from './journal.ts';
import type { Target } from './target.ts';

/** A member of a double, or a double that is a function: patterns and plans refer to it. */
export interface Member {
  readonly is: 'member';
  readonly journal: Journal;
  readonly target: Target;
  /** The answer to a call that matches no plan. */
  readonly otherwise: Otherwise;
  /** What happens at a call that no plan fits and no real one answers; `fail` throws to its caller. */
  readonly whenUnplanned: Level;
  /** The real function that it stands for, if there is one. */
  readonly real: RealFunction | undefined;
  /** Whether that is the test's own: a function of a partial fake. */
  readonly fake: boolean;
  /** The class of the double it belongs to, or that it is itself. */
  readonly shape: Class | undefined;
  /** The stand-ins made by it, if it is a class. */
  readonly made: object[];
  /** Records the reads of a member of it from now on, and gives that as a member; for members of an interface. */
  readonly recordReads?: ((key: PropertyKey) => Member | undefined) | undefined;
}

/** The effect of a broken strictness rule: none, a note in the summary, or a finding. */
export type Level = 'allow' | 'note' | 'fail';

export type RealFunction = (this: unknown, ...args: unknown[]) => unknown;

export type Class = abstract new (...args: never[]) => unknown;

/** The answer to a call that matches no plan. */
export type Otherwise =
  | 'nothing'
  /** A promise that fulfils with `undefined`: an asynchronous member. */
  | 'promise'
  /** An iteration that has no items: a generator. */
  | 'items'
  | 'asyncItems'
  /** The real one. */
  | 'real'
  /** An error: the double's class has no such member. */
  | 'unknown'
  /** A stand-in for the class that was to be constructed. */
  | 'instance';

/** An object with members. */
export interface Double {
  readonly is: 'double';
  readonly journal: Journal;
  readonly name: string;
  /** The stand-in itself. */
  readonly object: object;
  readonly whenUnplanned: Level;
  /** The class it stands in for. */
  readonly shape: Class | undefined;
  /** The members that it is said to have, if any are named. */
  readonly names: Names | undefined;
  /** Records the reads of a property from now on, and gives it as a member; nothing of a real object. */
  readonly recordReads?: (key: PropertyKey) => Member | undefined;
  /** The properties that were read while that was not recorded. */
  readonly readBefore?: Set<PropertyKey>;
}

/** The members that a stand-in is said to have. */
export interface Names {
  /** These and no others; any that is used unless given. */
  readonly members: ReadonlySet<PropertyKey> | undefined;
  /** These as well, although their names look like probes of frameworks. */
  readonly also: ReadonlySet<PropertyKey> | undefined;
}

/** A source that is followed, as the test holds it. */
export interface FollowedStream {
  readonly is: 'stream';
  readonly journal: Journal;
  readonly name: string;
  readonly member: Member;
}

/** An object in the hands of a test: a member, a double, a stream or the ledger itself. */
export type Tied =
  | Member
  | Double
  | FollowedStream
  | { readonly is: 'ledger'; readonly journal: Journal };

/** A member that nothing was said of yet: answering nothing and allowing every call. */
export function newMember(
  journal: Journal,
  target: Target,
  parts: Partial<Omit<Member, 'is' | 'journal' | 'target'>> = {},
): Member {
  return {
    is: 'member',
    journal,
    target,
    otherwise: 'nothing',
    whenUnplanned: 'allow',
    real: undefined,
    fake: false,
    shape: undefined,
    made: [],
    ...parts,
  };
}

/** The name that a test holds something by: a member's label, a double's name. */
export function nameOf(held: Tied): string {
  switch (held.is) {
    case 'member':
      return held.target.label;
    case 'double':
    case 'stream':
      return held.name;
    case 'ledger':
      return held.journal.name;
  }
}
