import { shortValue } from '../notation/value.ts';
import type { Level, RuleLevels, RuleName } from '../record/ledger-record.ts';
import { refuse } from '../record/refuse.ts';

export type { RuleName };

/** What a rule does where it is broken: nothing, a note in the account, or a finding. */
export type RuleLevel = Level;

export type RuleSet = 'loose' | 'usual' | 'strict';

/** One of the ready-made sets, or single rules on top of one (`usual` unless `base` names another). */
export type Rules =
  | RuleSet
  | ({ readonly base?: RuleSet } & { readonly [R in RuleName]?: RuleLevel });

/** Each rule's level in the sets `loose`, `usual` and `strict`. What each looks at is told in docs/rules.md. */
const levelsOf: { readonly [R in RuleName]: readonly [RuleLevel, RuleLevel, RuleLevel] } = {
  unplannedCall: ['allow', 'allow', 'fail'],
  unclaimedCall: ['allow', 'allow', 'fail'],
  unusedPlan: ['allow', 'note', 'fail'],
  unfinishedCall: ['allow', 'fail', 'fail'],
  uncheckedClaim: ['allow', 'fail', 'fail'],
  unawaitedReach: ['fail', 'fail', 'fail'],
  nothingChecked: ['allow', 'note', 'fail'],
  vacuousClaim: ['allow', 'note', 'fail'],
  changedArgument: ['allow', 'note', 'note'],
  callAfterClose: ['allow', 'note', 'fail'],
};

const ruleNames = Object.keys(levelsOf) as readonly RuleName[];
const setNames: readonly RuleSet[] = ['loose', 'usual', 'strict'];
const levels: readonly unknown[] = ['allow', 'note', 'fail'] satisfies RuleLevel[];

type Below = (...args: never[]) => unknown;

/**
 * Reads rules as they were given.
 *
 * @param outer what holds where nothing is said: the ledger's rules, for a double
 * @param below the public function they were given to
 * @throws TypeError where there is no such set, rule or level
 */
export function readRules(given: unknown, outer: RuleLevels, below: Below): RuleLevels {
  if (given === undefined) return outer;
  if (typeof given === 'string') return setNamed(given, below);
  if (typeof given !== 'object' || given === null || Array.isArray(given)) {
    refuse(
      `${below.name}: rules are 'loose', 'usual', 'strict' or { rule: level }, and were given ${shortValue(given)}.`,
      below,
    );
  }
  const { base, ...single } = given as { readonly base?: unknown };
  const rules: Record<string, unknown> = {
    ...(base === undefined ? outer : setNamed(base, below)),
  };
  for (const [name, level] of Object.entries(single)) {
    if (level === undefined) continue;
    if (!Object.hasOwn(levelsOf, name)) {
      refuse(`${below.name}: there is no rule ${name}. These are: ${ruleNames.join(', ')}.`, below);
    }
    if (!levels.includes(level)) {
      refuse(
        `${below.name}: rule ${name} is 'allow', 'note' or 'fail', and was given ${shortValue(level)}.`,
        below,
      );
    }
    rules[name] = level;
  }
  return rules as RuleLevels;
}

function setNamed(name: unknown, below: Below): RuleLevels {
  const at = setNames.indexOf(name as RuleSet);
  if (at >= 0) return rulesAt(at);
  refuse(
    `${below.name}: there is no set of rules ${shortValue(name)}. Write 'loose', 'usual' or 'strict'.`,
    below,
  );
}

function rulesAt(set: number): RuleLevels {
  return Object.fromEntries(ruleNames.map((name) => [name, levelsOf[name][set]])) as RuleLevels;
}

export const usualRules: RuleLevels = rulesAt(setNames.indexOf('usual'));
