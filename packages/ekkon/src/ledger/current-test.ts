/** The test that a runner is running, for ledgers that are opened in its body. */
export interface CurrentTest {
  /** Its file and name. */
  readonly test: string;
  /** Whether no other test can have that name. */
  readonly isUnique: boolean;
  /** The number of the next ledger in it, from 1. */
  nextLedger(): number;
}

/** The functions that know a runner and its current test. */
const asked: (() => CurrentTest | undefined)[] = [];

/** Lets a fixture say which test its runner runs now. */
export function tellCurrentTest(current: () => CurrentTest | undefined): void {
  asked.push(current);
}

/** The test that is running, as far as a fixture knows it. */
export function currentTest(): CurrentTest | undefined {
  for (const current of asked) {
    const found = current();
    if (found !== undefined) return found;
  }
  return undefined;
}

/** The name under which the record of a test's ledger is kept. */
export function ledgerIn({ test, nextLedger }: CurrentTest): string {
  const number = nextLedger();
  return number === 1 ? test : `${test} › ledger ${number}`;
}
