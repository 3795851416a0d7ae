import { shortValue } from '../notation/value.ts';
import { tied } from '../record/tie.ts';
import { lastPassOn } from '../rule/last-pass-on.ts';
import { writeLastPass } from '../since/last-pass.ts';
import type { Below } from '../value/below.ts';
import { intrinsics } from '../value/intrinsics.ts';
import { refuse } from '../value/refuse.ts';
import { folderStore } from './last-pass-folder.ts';
import type { Ledger, LedgerOptions } from './ledger.ts';
import { setting } from './setting.ts';
import { tellOnce } from './tell.ts';

/**
 * Keeps the record of the last run of each test that passed, one text for each.
 *
 * @example
 * const texts = new Map<string, string>();
 * const lastPass = {
 *   read: (test: string) => texts.get(test),
 *   write: (test: string, record: string) => void texts.set(test, record),
 * };
 * await withLedger({ name: 'first light', lastPass }, (ledger) => {
 *   ledger.standIn<Dome>('dome').open();
 * });
 */
export interface LastPassStore {
  /**
   * Reads the kept record of a test.
   *
   * @param test the test's file and name
   * @returns the last text that `write` received; `undefined` if there is nothing
   */
  read(test: string): string | undefined | Promise<string | undefined>;
  /** Keeps the record of a run that passed in place of the one before. */
  write(test: string, record: string): void | Promise<void>;
}

/** A store in use: `write` may return `false` for a record that is too large. */
export interface HeldStore extends Pick<LastPassStore, 'read'> {
  write(test: string, record: string): unknown;
}

/** Where the record of one test is kept. */
export interface KeptAt {
  readonly store: HeldStore;
  /** The test's file and name. */
  readonly test: string;
}

/** The folder that the environment variable names for a whole project. */
const variable = 'EKKON_LAST_PASS';

/** Stores in folders, by their paths. */
const folders = new Map<string, HeldStore>();

/**
 * The store of a test's last pass: from its options, otherwise from the environment.
 *
 * @param option the value of `lastPass`
 * @returns `undefined` if it is kept nowhere
 */
function keptAt(option: unknown, test: string | undefined, below: Below): KeptAt | undefined {
  const asked = readStore(option, below) ?? folderAsked();
  if (asked === undefined || test === undefined) return undefined;
  if (typeof asked !== 'string') return { store: asked, test };
  const store = folders.get(asked) ?? folderStore(asked);
  if (store === undefined) {
    tellOnce(
      `lastPass: ${asked} is a folder, and there are no files here. Give a store of your own: lastPass: { read, write }.`,
    );
    return undefined;
  }
  folders.set(asked, store);
  return { store, test };
}

/** Options without `lastPass`, as `openLedger` takes them; and that. */
export function withoutLastPass(options: LedgerOptions): readonly [LedgerOptions, unknown] {
  if (typeof options !== 'object' || options === null || !('lastPass' in options))
    return [options, undefined];
  const { lastPass, ...own } = options;
  return [own, lastPass];
}

/** Whether the record of a run that passed is asked for. */
export function isLastPassAsked(option: unknown): boolean {
  return option !== undefined || folderAsked() !== undefined;
}

function folderAsked(): string | undefined {
  return setting(variable);
}

function readStore(option: unknown, below: Below): string | LastPassStore | undefined {
  if (option === undefined || (typeof option === 'string' && option !== '')) return option;
  const { read, write } = (option ?? {}) as Partial<LastPassStore>;
  if (typeof read === 'function' && typeof write === 'function') return option as LastPassStore;
  refuse(
    `lastPass is a folder or a store, and was given as ${shortValue(option)}. Write lastPass: '.ekkon/last-pass', or lastPass: { read, write }.`,
    below,
  );
}

/** Kept under a name that several tests have: it is left alone from then on. */
const ambiguous = 'several tests have this name';

/** The tests of which a record was read in this process, by their stores. */
const claimed = new WeakMap<HeldStore, Set<string>>();

/**
 * Reads the kept record of a test, for its ledger.
 *
 * @param isUnique whether no other test can have this name
 */
async function readLastPass(ledger: Ledger, at: KeptAt, isUnique: boolean): Promise<void> {
  const journal = tied(ledger)?.journal;
  if (journal === undefined) return;
  const state = lastPassOn(journal);
  const { store, test } = at;
  try {
    const kept = (await store.read(test)) ?? undefined;
    const read = claimed.get(store) ?? new Set();
    claimed.set(store, read);
    if (!isUnique && read.has(test)) {
      state.leftOut = ambiguous;
      if (kept !== ambiguous) await store.write(test, ambiguous);
      return;
    }
    read.add(test);
    if (kept === ambiguous) state.leftOut = ambiguous;
    else state.kept = kept;
  } catch (error) {
    tellOnce(`lastPass: what was kept of "${test}" cannot be read: ${error}`);
  }
}

/**
 * Reads the kept record of a test for its ledger, if `lastPass` is on.
 *
 * @param option the value of `lastPass`
 * @param nameOf the test's file and name; `undefined` if it is not unique
 * @returns where the record goes if the test passes
 */
export async function lastPassFor(
  ledger: Ledger,
  option: unknown,
  nameOf: () => string | undefined,
  isUnique: boolean,
  below: Below,
): Promise<KeptAt | undefined> {
  const at = isLastPassAsked(option) ? keptAt(option, nameOf(), below) : undefined;
  if (at !== undefined) await readLastPass(ledger, at, isUnique);
  return at;
}

/** Keeps the record of a test that has passed. If that fails, it is a warning, and the test goes on. */
export async function keepPass(ledger: Ledger, { store, test }: KeptAt): Promise<void> {
  const journal = tied(ledger)?.journal;
  if (journal === undefined) return;
  const state = lastPassOn(journal);
  if (state.leftOut !== undefined) return;
  try {
    const { kept, checks } = state;
    const passedAt = intrinsics.Date.now();
    const text = writeLastPass(journal, { test, passedAt, checks }, kept);
    const written = text === undefined ? false : await store.write(test, text);
    if (written === false) state.leftOut = 'it is larger than 5,000 calls or 1 MB';
  } catch (error) {
    tellOnce(`lastPass: records cannot be kept: ${error}`);
  }
}
