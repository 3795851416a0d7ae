import type { CapturedSite } from '../record/call-site.ts';
import { type DoubleKind, doublesNamed } from '../record/double-names.ts';
import { forEachJournal } from '../record/each-journal.ts';
import type { Journal } from '../record/journal.ts';
import type { Otherwise } from '../record/member.ts';

/** The doubles of a ledger: their names, replaced members of real objects, and followed streams. */
interface Doubles {
  /** How often each name was asked for. */
  readonly asked: Map<string, number>;
  /** The names given, each with the one that was asked for. */
  readonly names: Map<string, string>;
  /** The names of real objects of which members were replaced. */
  readonly owners: WeakMap<object, string>;
  /** The replaced members of real objects, in that order. */
  readonly slots: Slot[];
  /** The sources that are followed, in that order. */
  readonly streams: Subscription[];
}

/** A place in a real object in which a replacement stands. */
export interface Slot {
  readonly member: string;
  /** Puts the place back as it was; `false` if somebody else has changed it in the meantime. */
  restore(): boolean;
}

/** A source that is followed. */
export interface Subscription {
  readonly label: string;
  /** Where it was asked for. */
  readonly captured: CapturedSite | undefined;
  /** Ends the subscription; may throw the source's error, or return a promise. `undefined` once it has ended. */
  release: (() => unknown) | undefined;
}

export const doublesOn: (journal: Journal) => Doubles = forEachJournal(() => ({
  asked: new Map(),
  names: new Map(),
  owners: new WeakMap(),
  slots: [],
  streams: [],
}));

/** A name no other double of the ledger has: a second one of the same name is told apart by a number. */
export function unusedName(journal: Journal, name: string, kind: DoubleKind): string {
  const { asked, names } = doublesOn(journal);
  let number = (asked.get(name) ?? 0) + 1;
  let unused = number === 1 ? name : `${name}~${number}`;
  while (names.has(unused)) unused = `${name}~${++number}`;
  asked.set(name, number);
  names.set(unused, name);
  doublesNamed(journal).set(unused, kind);
  return unused;
}

/** The default reply of a function that stands in for a real one: of the expected kind, but empty. */
export function otherwiseFor(real: unknown): Otherwise {
  return (
    (
      {
        '[object AsyncFunction]': 'promise',
        '[object GeneratorFunction]': 'items',
        '[object AsyncGeneratorFunction]': 'asyncItems',
      } as const
    )[Object.prototype.toString.call(real)] ?? 'nothing'
  );
}
