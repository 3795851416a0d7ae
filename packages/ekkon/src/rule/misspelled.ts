import { type HeldClaim, partsOf } from '../claim/kinds.ts';
import { aboutClaim, type NearEntry } from '../explain/diagnosis.ts';
import type { Diagnosis } from '../explain/finding.ts';
import { callsOf, type HeldEvent, type HeldPattern } from '../pattern/event.ts';
import { callsDifferences, eventFit } from '../pattern/fit.ts';
import { plansOf } from '../plan/plan.ts';
import { entryData } from '../record/entry-data.ts';
import type { HeldEntry } from '../record/journal.ts';
import type { Difference } from '../value/difference.ts';
import { isOneSlip } from '../value/one-slip.ts';
import { printsAs } from '../value/prints-as.ts';

/** How many calls are looked at for a slip. */
const slipsLookedFor = 200;

/**
 * A claim that something never came, or that guards what never came, if its name or a text is one slip of typing away
 * from an event that did.
 */
export function misspelled(claim: HeldClaim): Diagnosis | undefined {
  for (const event of neverCame(claim)) {
    const calls = event === undefined ? undefined : callsOf(event);
    const near = calls === undefined ? undefined : (nameSlip(calls) ?? textSlip(calls));
    if (calls === undefined || near === undefined) continue;
    const about = { culprits: [near.entry.id], at: near.entry.site, near };
    return { code: 'vacuousClaim', ...aboutClaim(claim), ...about, never: calls[printsAs] };
  }
  return undefined;
}

/** The events of which a claim holds because they did not come. */
function neverCame(claim: HeldClaim): readonly (HeldEvent | undefined)[] {
  const { guarded, hears, holdsOfNothing } = partsOf(claim);
  if (holdsOfNothing(claim)) return hears(claim).events;
  const event = guarded?.(claim);
  const { entries } = claim.journal;
  return event === undefined || entries.some((entry) => eventFit(event, entry) === 'fits')
    ? []
    : [event];
}

/** A call of a member of the same stand-in whose name is one slip away from one that was never used. */
function nameSlip({ member }: HeldPattern): NearEntry | undefined {
  const { target, journal, real, shape } = member;
  if (real !== undefined || shape !== undefined || plansOf(member).length > 0) return undefined;
  const [key] = target.keys.slice(-1);
  if (typeof key !== 'string' || journal.entries.some((entry) => entry.target === target))
    return undefined;
  const meant = journal.entries.slice(0, slipsLookedFor).find(({ target: other }) => {
    const [name] = other.keys.slice(-1);
    const isAlike = other.double === target.double && other.keys.length === target.keys.length;
    return isAlike && typeof name === 'string' && isOneSlip(key, name);
  });
  return meant === undefined ? undefined : nearAs(meant, []);
}

/** A call of the same member that differs in one text, by one slip. */
function textSlip(calls: HeldPattern): NearEntry | undefined {
  if (calls.claimed === undefined) return undefined;
  const { target, journal } = calls.member;
  const of = journal.entries.filter((entry) => entry.target === target).slice(0, slipsLookedFor);
  const meant = of.find((entry) => isSlipOf(calls, entry));
  return meant === undefined ? undefined : nearAs(meant, callsDifferences(calls, meant));
}

/** Whether a call differs from a pattern in one text alone, and there by one slip. */
export function isSlipOf(calls: HeldPattern, entry: HeldEntry): boolean {
  const [first, another] = callsDifferences(calls, entry);
  if (first?.kind !== 'changed' || another !== undefined) return false;
  const { expected, received } = first;
  return (
    typeof expected === 'string' && typeof received === 'string' && isOneSlip(expected, received)
  );
}

function nearAs(entry: HeldEntry, differences: readonly Difference[]): NearEntry {
  return {
    entry: entryData(entry),
    differences,
    distance: differences.length,
    changedSince: [],
  };
}
