import { type HeldClaim, patternsIn } from '../claim.ts';
import { type HeldEvent, isEnd, memberOf } from '../event.ts';
import type { StepTree } from '../order/steps.ts';
import type { HeldPattern } from '../pattern.ts';
import { followCount } from './count-progress.ts';
import { followInFlight } from './in-flight-progress.ts';
import { followItems } from './items-progress.ts';
import { followOrder } from './order-progress.ts';
import { followPrecedence } from './precedence-progress.ts';
import type { Progress, Standing } from './standing.ts';

/**
 * Follows how a claim stands while the record grows.
 *
 * @param holdsNow judges the claim on the whole record, for claims that are not followed event by event
 */
export function followClaim(claim: HeldClaim, holdsNow: () => boolean): Progress {
  return untilStreamsEnd(progressOf(claim, holdsNow), patternsIn(claim));
}

function progressOf(claim: HeldClaim, holdsNow: () => boolean): Progress {
  switch (claim.claim) {
    case 'count':
      return followCount(claim);
    case 'order':
      return followOrder(claim);
    case 'onlyAfter':
    case 'leadsTo':
      return followPrecedence(claim);
    case 'inFlight':
      return followInFlight(claim);
    case 'exactItems':
      return followItems(claim);
    case 'during':
    case 'nothingElse':
    case 'conforms':
      return followAnew(holdsNow);
  }
}

/** Judged anew when it is asked for after something has happened. */
function followAnew(holdsNow: () => boolean): Progress {
  let known: Standing | undefined;
  return {
    get standing(): Standing {
      known ??= holdsNow() ? 'holds' : 'open';
      return known;
    },
    take() {
      known = undefined;
    },
  };
}

/** A claim that speaks of streams alone is lost where all of them have come to their end without it. */
function untilStreamsEnd(progress: Progress, patterns: readonly HeldEvent[]): Progress {
  if (patterns.length === 0 || !patterns.every(isOfStream)) return progress;
  const running = new Set(patterns.map((event) => memberOf(event).label));
  return {
    get standing(): Standing {
      const { standing } = progress;
      return standing === 'open' && running.size === 0 ? 'lost' : standing;
    },
    take(entry, end) {
      progress.take(entry, end);
      if (entry.kind === 'end' || entry.kind === 'failure') running.delete(entry.label);
    },
  };
}

/** Whether a pattern speaks of what a stream does. */
export function isOfStream(event: HeldEvent): event is HeldPattern {
  return event.of === 'item' || event.of === 'failure' || (event.of === 'end' && !isEnd(event));
}

/** What to listen to for a claim: the entries of some patterns, or all. */
export function heardBy(claim: HeldClaim): readonly HeldEvent[] | 'all' {
  switch (claim.claim) {
    case 'during': {
      const inner = heardBy(claim.inner);
      const bounds = [claim.from, claim.until].filter(
        (bound): bound is HeldEvent => bound !== undefined && !('tick' in bound),
      );
      return inner === 'all' ? inner : [...bounds, ...inner];
    }
    case 'order':
      return hasUnbroken(claim.tree) ? 'all' : patternsIn(claim);
    case 'nothingElse':
    case 'conforms':
      return 'all';
    default:
      // A stream's end concerns whoever waits for its items.
      return patternsIn(claim).map((event) =>
        isOfStream(event) ? { ...event, claimed: undefined } : event,
      );
  }
}

/** Whether beginnings that fit no step can break a sequence. */
function hasUnbroken(step: StepTree): boolean {
  switch (step.kind) {
    case 'event':
      return false;
    case 'unbroken':
      return true;
    case 'loop':
      return hasUnbroken(step.part);
    default:
      return step.parts.some(hasUnbroken);
  }
}

/** Whether more calls can make a claim true that does not hold. */
export function canComeTrue(claim: HeldClaim): boolean {
  switch (claim.claim) {
    case 'count':
      return claim.range.least > 0 || claim.held.of === 'unfinished';
    case 'inFlight':
      return claim.range.least > 0;
    case 'exactItems':
      return claim.items.length > 0;
    case 'during':
      return canComeTrue(claim.inner);
    case 'order':
    case 'leadsTo':
      return true;
    case 'onlyAfter':
    case 'nothingElse':
    case 'conforms':
      return false;
  }
}

/** Whether more calls can break a claim that has come true and has an upper bound. */
export function isBounded(claim: HeldClaim): boolean {
  switch (claim.claim) {
    case 'count':
    case 'inFlight':
      return claim.range.most !== Number.POSITIVE_INFINITY;
    case 'leadsTo':
      return false;
    default:
      return true;
  }
}
