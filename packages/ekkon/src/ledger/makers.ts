import { makeConstructible } from '../double/constructible.ts';
import { unusedName } from '../double/doubles.ts';
import { addFake } from '../double/fake.ts';
import { recordedFunction } from '../double/recorded.ts';
import { inspected, shown } from '../double/shown.ts';
import { addInner, makeStandIn, namesMember } from '../double/stand-in.ts';
import { shortValue } from '../notation/value.ts';
import type { Journal } from '../record/journal.ts';
import { type Names, newMember } from '../record/member.ts';
import { targetAt } from '../record/target.ts';
import type { Below } from '../value/below.ts';
import { refuse } from '../value/refuse.ts';
import { holdTo, newName, rulesFor } from './double-options.ts';
import type { CallableOptions, DoubleOptions, Ledger, StandInOptions } from './ledger.ts';

type Makers = Pick<Ledger, 'standIn' | 'standIns' | 'callable' | 'constructible'>;

/** The members of a ledger that make new doubles, rather than record real objects. */
export function makersOf(journal: Journal): Makers {
  const makers: Makers = {
    standIn<T extends object>(name: string, given?: unknown, options?: StandInOptions<T>): T {
      const below = makers.standIn;
      const rules = rulesFor(journal, options, below, ['rules', 'members', 'also']);
      const names = namesFor(options as never, below);
      const label = newName(journal, name, 'stand-in', below);
      if (typeof given === 'function' && typeof given.prototype === 'object') {
        const whenUnplanned = holdTo(journal, label, rules);
        return makeStandIn(journal, label, { shape: given as never, whenUnplanned, names }) as T;
      }
      if (given !== undefined && (typeof given !== 'object' || given === null)) {
        refuse(
          `standIn(${shortValue(name)}, …) takes a class or a partial fake, and was given ${shortValue(given)}.`,
          below,
        );
      }
      const standIn = makeStandIn(journal, label, {
        whenUnplanned: holdTo(journal, label, rules),
        names,
      });
      if (given !== undefined) addFake(standIn, given);
      return standIn as T;
    },
    standIns<T extends object>(options?: DoubleOptions): T {
      const rules = rulesFor(journal, options, makers.standIns);
      const made = new Map<string, object>();
      return new Proxy(Object.create(null), {
        get(_, key) {
          // Libraries take an object with `lift` for a stream, but none of them is given this one.
          if (key !== 'lift' && !namesMember(key)) return undefined;
          const known = made.get(key);
          if (known !== undefined) return known;
          const label = unusedName(journal, key, 'stand-in');
          const standIn = makeStandIn(journal, label, {
            whenUnplanned: holdTo(journal, label, rules),
          });
          made.set(key, standIn);
          return standIn;
        },
        ownKeys: function ownKeys() {
          refuse(
            'standIns() makes members on demand, so they cannot be listed. Destructure it: const { dome, mount } = ledger.standIns<Devices>().',
            ownKeys,
          );
        },
      });
    },
    callable<F>(name: string, options?: CallableOptions<F>): F {
      const rules = rulesFor(journal, options, makers.callable, ['rules', 'members']);
      const names = namesFor(options as never, makers.callable)?.members ?? [];
      const label = newName(journal, name, 'callable', makers.callable);
      const whenUnplanned = holdTo(journal, label, rules);
      const member = newMember(journal, targetAt(journal, label, []), { whenUnplanned });
      const made = recordedFunction(member, name, `[callable ${label}]`);
      Object.defineProperties(made, { toString: shown, [inspected]: shown });
      for (const key of names) addInner(made, member, key);
      return made as F;
    },
    constructible<C>(name: string, shape?: unknown, options?: DoubleOptions): C {
      const below = makers.constructible;
      const rules = rulesFor(journal, options, below);
      const label = newName(journal, name, 'constructible', below);
      if (
        shape !== undefined &&
        (typeof shape !== 'function' || typeof shape.prototype !== 'object')
      ) {
        refuse(
          `constructible(${shortValue(name)}, …) takes a class, and was given ${shortValue(shape)}.`,
          below,
        );
      }
      return makeConstructible(journal, label, shape as never, holdTo(journal, label, rules)) as C;
    },
  };
  return makers;
}

function isName(given: unknown): boolean {
  return typeof given === 'string' || typeof given === 'symbol';
}

/** The members that a stand-in is said to have, if any are named. */
function namesFor(
  options: Readonly<Record<'members' | 'also', unknown>> | undefined,
  below: Below,
): Names | undefined {
  const [members, also] = (['members', 'also'] as const).map((option) => {
    const given: unknown = options?.[option];
    if (given === undefined) return undefined;
    if (Array.isArray(given) && given.every(isName)) return new Set<PropertyKey>(given);
    return refuse(
      `${below.name}(): ${option} must be a list of names, not ${shortValue(given)}. Write { ${option}: ['read'] }.`,
      below,
    );
  });
  return members === undefined && also === undefined ? undefined : { members, also };
}
