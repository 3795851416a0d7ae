import { shortValue } from '../notation/value.ts';
import type { Level } from '../record/ledger-record.ts';
import { refuse } from '../record/refuse.ts';

/** What a rule does where it is broken: nothing, a note in the account, or a finding. */
export type RuleLevel = Level;

/**
 * The rules there are. `unplannedCall`: a call that no plan fits and no real member answers; at `fail` it
 * throws to its caller, and stays a finding at close though the caller swallowed it. `vacuousClaim`: a claim
 * that holds for no reason, since its stretch, its cause or what it guards never occurred.
 */
export type RuleName = 'unplannedCall' | 'vacuousClaim';

export type RuleSet = 'loose' | 'usual' | 'strict';

/** One of the ready-made sets, or single rules on top of one (`usual` unless `base` names another). */
export type Rules =
  | RuleSet
  | ({ readonly base?: RuleSet } & { readonly [R in RuleName]?: RuleLevel });

export type ResolvedRules = { readonly [R in RuleName]: RuleLevel };

const sets: { readonly [S in RuleSet]: ResolvedRules } = {
  loose: { unplannedCall: 'allow', vacuousClaim: 'allow' },
  usual: { unplannedCall: 'allow', vacuousClaim: 'note' },
  strict: { unplannedCall: 'fail', vacuousClaim: 'fail' },
};

const levels: readonly unknown[] = ['allow', 'note', 'fail'] satisfies RuleLevel[];

/**
 * Reads rules as they were given.
 *
 * @param outer what holds where nothing is said: the ledger's rules, for a double
 * @param below the public function they were given to
 * @throws TypeError where there is no such set, rule or level
 */
export function readRules(
  given: Rules | undefined,
  outer: ResolvedRules,
  below: (...args: never[]) => unknown,
): ResolvedRules {
  if (given === undefined) return outer;
  if (typeof given === 'string') return setNamed(given, below);
  const { base, ...single } = given;
  const rules: Record<string, RuleLevel> = {
    ...(base === undefined ? outer : setNamed(base, below)),
  };
  for (const [name, level] of Object.entries(single)) {
    if (!Object.hasOwn(sets.usual, name)) {
      refuse(
        `${below.name}: there is no rule ${name}. These are: ${Object.keys(sets.usual).join(', ')}.`,
        below,
      );
    }
    if (!levels.includes(level)) {
      refuse(
        `${below.name}: rule ${name} is 'allow', 'note' or 'fail', and was given ${shortValue(level)}.`,
        below,
      );
    }
    rules[name] = level;
  }
  return rules as ResolvedRules;
}

function setNamed(name: string, below: (...args: never[]) => unknown): ResolvedRules {
  if (Object.hasOwn(sets, name)) return sets[name as RuleSet];
  refuse(
    `${below.name}: there is no set of rules ${shortValue(name)}. Write 'loose', 'usual' or 'strict'.`,
    below,
  );
}

export const usualRules: ResolvedRules = sets.usual;
