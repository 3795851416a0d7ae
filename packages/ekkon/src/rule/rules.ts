import { shortValue } from '../notation/value.ts';
import type { Level } from '../record/member.ts';
import type { Below } from '../value/below.ts';
import { nearNames } from '../value/near-names.ts';
import { refuse } from '../value/refuse.ts';
import { changedArgument } from './changed-argument.ts';
import { nothingChecked } from './nothing-checked.ts';
import type { Broken, Closing, Rule, RuleSet } from './rule.ts';
import { swallowedCheck } from './swallowed-check.ts';
import { unawaitedWait } from './unawaited-wait.ts';
import { uncheckedClaim } from './unchecked-claim.ts';
import { unclaimedCall } from './unclaimed-call.ts';
import { unfinishedCall } from './unfinished-call.ts';
import { vacuousClaim } from './untouched-double.ts';
import { unusedPlan } from './unused-plan.ts';

export type { RuleSet } from './rule.ts';

/** The strictness rules. */
export type RuleName = keyof typeof rules;

/** How strict each rule is. A plan that was not used may be a failure only if a call came near it. */
export type RuleLevels = {
  readonly [R in RuleName]: (typeof rules)[R] extends Rule<infer L> ? L : never;
};

/** The effect of a broken rule: none, a note in the summary, or a finding. */
export type RuleLevel = Level;

/** One of the ready-made sets, or single rules on top of one (`usual` unless `base` names another). */
export type Rules =
  | RuleSet
  | ({ readonly base?: RuleSet } & { readonly [R in RuleName]?: RuleLevel });

/** The rules, the most telling first. docs/rules.md describes each. */
const rules = {
  unplannedCall: lookedAtElsewhere({
    loose: 'allow',
    usual: 'allow',
    careful: 'allow',
    strict: 'fail',
  }),
  swallowedCheck,
  unusedPlan,
  unfinishedCall,
  unawaitedWait,
  uncheckedClaim,
  alwaysTrueClaim: lookedAtElsewhere({
    loose: 'allow',
    usual: 'fail',
    careful: 'fail',
    strict: 'fail',
  }),
  vacuousClaim,
  nothingChecked,
  changedArgument,
  unclaimedCall,
  callAfterClose: lookedAtElsewhere({
    loose: 'allow',
    usual: 'note',
    careful: 'fail',
    strict: 'fail',
  }),
};

/** A rule that is applied when something is called, or when a claim is judged. */
function lookedAtElsewhere(levels: Rule['levels']): Rule {
  return { levels };
}

const ruleNames = Object.keys(rules) as readonly RuleName[];
const setNames: readonly RuleSet[] = ['loose', 'usual', 'careful', 'strict'];
const levels: readonly unknown[] = ['allow', 'note', 'fail'] satisfies RuleLevel[];

/** The findings of rules that run when a ledger is closed, the most telling first. */
export function brokenAtClose(closing: Closing): readonly Broken[] {
  return ruleNames.flatMap((name) => {
    const rule: Rule<unknown> = rules[name];
    return rule.atClose?.(closing) ?? [];
  });
}

/** The levels of a ready-made set. */
export function levelsIn(set: RuleSet): RuleLevels {
  const pairs = ruleNames.map((name) => [name, rules[name].levels[set]]);
  return Object.fromEntries(pairs) as RuleLevels;
}

const sets = "'loose', 'usual', 'careful' or 'strict'";

/**
 * Reads the rules option.
 *
 * @param outer the default: the ledger's rules, for a double
 * @param below the public function that received them
 * @throws TypeError if there is no such set, rule or level
 */
export function readRules(given: unknown, outer: RuleLevels, below: Below): RuleLevels {
  if (given === undefined) return outer;
  if (typeof given === 'string') return setNamed(given, below);
  if (typeof given !== 'object' || given === null || Array.isArray(given)) {
    refuse(
      `${below.name}: rules must be ${sets}, or { rule: level }, not ${shortValue(given)}.`,
      below,
    );
  }
  const { base, ...single } = given as { readonly base?: unknown };
  const read: Record<string, unknown> = {
    ...(base === undefined ? outer : setNamed(base, below)),
  };
  for (const [name, level] of Object.entries(single)) {
    if (level === undefined) continue;
    if (!Object.hasOwn(rules, name)) {
      const [near] = nearNames(name, ruleNames);
      const hint =
        near === undefined ? `These are: ${ruleNames.join(', ')}.` : `Did you mean ${near}?`;
      refuse(`${below.name}: there is no rule ${name}. ${hint}`, below);
    }
    if (!levels.includes(level)) {
      refuse(
        `${below.name}: rule ${name} must be 'allow', 'note' or 'fail', not ${shortValue(level)}.`,
        below,
      );
    }
    read[name] = level;
  }
  return read as RuleLevels;
}

function setNamed(name: unknown, below: Below): RuleLevels {
  const set = setNames.find((each) => each === name);
  if (set !== undefined) return levelsIn(set);
  refuse(`${below.name}: there is no set of rules ${shortValue(name)}. Write ${sets}.`, below);
}
