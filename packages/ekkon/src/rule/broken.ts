import type { Diagnosis } from '../explain/finding.ts';
import type { Level } from '../record/ledger-record.ts';

/** What a rule finds, and how strict the rule is there: what it allows is not told. */
export interface Broken {
  readonly level: Exclude<Level, 'allow'>;
  readonly diagnosis: Diagnosis;
}

/** One finding, unless the rule allows it. */
export function brokenAt(level: Level, diagnosis: () => Diagnosis): readonly Broken[] {
  return level === 'allow' ? [] : [{ level, diagnosis: diagnosis() }];
}

/** The level, or a note where it is stricter. */
export function noteAtMost(level: Level): Level {
  return level === 'fail' ? 'note' : level;
}
