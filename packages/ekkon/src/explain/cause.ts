import type { Entry, EntryKind } from '../record/entry.ts';
import type { Difference } from '../value/difference.ts';

/** One kind of change to a record. `tail`: nothing came after the last entry, or nothing came at all. */
export type Alteration =
  | 'drop'
  | 'repeat'
  | 'insert'
  | 'move'
  | 'argument'
  | 'member'
  | 'outcome'
  | 'tail';

/** One alteration of a record under which claims that failed would hold, as data. */
export interface FoundCause {
  readonly alteration: Alteration;
  /** The entries that are altered; several if equal ones cannot be told apart. For a tail, the last that was heard. */
  readonly entries: readonly Entry[];
  /** The expected or missing events, as written; `undefined` if there are none. */
  readonly claimed: string | undefined;
  /** The member that is claimed, if an entry is of another. */
  readonly member: string | undefined;
  /** Whether all entries are altered at once, where one alone would not do. */
  readonly together?: true;
  /** Where several calls are missing: the members, each once, in the order in which they are expected. */
  readonly missing?: readonly string[];
  /** For calls of one member, or other entries of it, that are missing: how many there were, and how many are missing. */
  readonly counts?: {
    readonly received: number;
    readonly missing: number;
    readonly kind: EntryKind;
    /** The patterns of those that are missing, as written, if each has one that says which arguments it has. */
    readonly patterns?: readonly string[];
  };
  /** If the calls are one more turn of earlier ones: which turn, from 2. */
  readonly turn?: number;
  /** If a whole turn is missing: another turn, in which all of it came. */
  readonly like?: readonly Entry[];
  /** Where an entry differs from the expected one. */
  readonly differences: readonly Difference[];
  /** Where something is missing, or where an entry belongs: between these two. */
  readonly between: readonly [Entry | undefined, Entry | undefined] | undefined;
  /** Places in the findings. */
  readonly explains: readonly number[];
}

/** One alteration of a record under which findings would not be. */
export interface Cause {
  readonly alteration: Alteration;
  /** A sentence that tells it. */
  readonly message: string;
  /** Ids of the entries that are altered; several if equal ones cannot be told apart. */
  readonly culprits: readonly number[];
  /** Where something is missing, or where an entry belongs: between these entries. */
  readonly between?: readonly [number | undefined, number | undefined];
  /** Places in `findings`. */
  readonly explains: readonly number[];
}

/** The causes that were found, and whether the search was given up because there was too much to try. */
export interface FoundCauses {
  readonly causes: readonly FoundCause[];
  readonly isBounded: boolean;
}
