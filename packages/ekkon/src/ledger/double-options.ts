import { unusedName } from '../double/doubles.ts';
import { shortValue } from '../notation/value.ts';
import type { DoubleKind } from '../record/double-names.ts';
import type { Journal } from '../record/journal.ts';
import type { Level } from '../record/member.ts';
import { holdDouble, judgementsOn } from '../rule/judgements.ts';
import { type RuleLevels, readRules } from '../rule/rules.ts';
import type { Below } from '../value/below.ts';
import { readOptions } from '../value/read-options.ts';
import { refuse } from '../value/refuse.ts';
import type { DoubleOptions } from './ledger.ts';

/** Reads the rules that a double is given: those of its ledger if none are. */
export function rulesFor(
  journal: Journal,
  options: DoubleOptions | undefined,
  below: Below,
  known: readonly string[] = ['rules'],
): RuleLevels {
  readOptions(options, known, below);
  return readRules(options?.rules, judgementsOn(journal).levels, below);
}

/** Gives a double its own rules, including the one for unplanned calls. */
export function holdTo(journal: Journal, double: string, rules: RuleLevels): Level {
  holdDouble(journal, double, rules);
  return rules.unplannedCall;
}

/** The name a double goes by. */
export function newName(journal: Journal, name: string, kind: DoubleKind, below: Below): string {
  if (typeof name !== 'string' || name === '') {
    refuse(
      `${below.name}() takes the double's name, and was given ${shortValue(name)}. Write ${below.name}('dome').`,
      below,
    );
  }
  return unusedName(journal, name, kind);
}
