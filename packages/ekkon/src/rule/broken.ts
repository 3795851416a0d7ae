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

/** What is found of several things at once, told together where the rule is as strict on them. */
export function brokenTogether<T>(
  found: readonly T[],
  levelOf: (each: T) => Level,
  diagnose: (found: readonly T[]) => Diagnosis,
): readonly Broken[] {
  return (['fail', 'note'] as const).flatMap((level) => {
    const here = found.filter((each) => levelOf(each) === level);
    return here.length === 0 ? [] : [{ level, diagnosis: diagnose(here) }];
  });
}

/** The level, or a note where it is stricter. */
export function noteAtMost(level: Level): Level {
  return level === 'fail' ? 'note' : level;
}
