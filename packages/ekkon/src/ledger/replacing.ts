import { name } from '../double/recorded.ts';
import type { Way } from '../double/way.ts';
import { shortValue } from '../notation/value.ts';
import { replaceMember } from '../observe/replace.ts';
import type { Journal } from '../record/journal.ts';
import { levelsFor } from '../rule/judgements.ts';
import { refuse } from '../value/refuse.ts';
import { holdTo, rulesFor } from './double-options.ts';
import type { TargetOptions } from './ledger.ts';

/** The options of `takeOver` besides those of every replacement. */
interface Absent {
  readonly absent?: boolean;
}

/** The four ways to replace a member differ in their types, and in how the real one runs. */
export function replacing(journal: Journal, called: string, way: Way): never {
  const replace = (target: object, key: PropertyKey, options?: TargetOptions & Absent): unknown => {
    const known = way === 'takeOver' ? ['rules', 'name', 'absent'] : ['rules', 'name'];
    const rules = rulesFor(journal, options, replace, known);
    const called = options?.name;
    if (called !== undefined && (typeof called !== 'string' || called === '')) {
      refuse(
        `${replace.name}: name must be a string that is not empty, not ${shortValue(called)}. Write { name: 'quayClient' }.`,
        replace,
      );
    }
    return replaceMember(
      journal,
      target,
      key,
      way,
      called,
      (double) =>
        options?.rules === undefined
          ? levelsFor(journal, double).unplannedCall
          : holdTo(journal, double, rules),
      options?.absent === true,
      replace,
    );
  };
  name(replace, called);
  return replace as never;
}
