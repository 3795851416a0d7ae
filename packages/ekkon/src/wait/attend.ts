import { isUnfinished } from '../claim/count.ts';
import { countedBy, type HeldClaim } from '../claim/kinds.ts';
import type { Counted, Evidence, Standing } from '../claim/parts.ts';
import { Follower } from '../judge/follower.ts';
import { callsOf, type HeldEvent, isOfStream, targetOf } from '../pattern/event.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import type { Target } from '../record/target.ts';
import { watchersOn } from './watchers.ts';

/** The standing of a claim, and a notification when it may have changed. */
export interface Attention {
  readonly standing: Standing;
  /** The event that never occurred, if the claim holds for no other reason. */
  absent(): ReturnType<Follower['absent']>;
  /** Whether it may still come true. */
  isHopeful(): boolean;
  /** Calls back when the state of the claim may have changed; the returned function ends that. */
  listen(run: () => void): () => void;
  /** To be called if nobody listens. */
  leave(): void;
}

/**
 * Attends to a claim while the record grows. Counts of one pattern are counted once for all claims on them;
 * any other claim follows the events by itself.
 */
export function attend(claim: HeldClaim, journal: Journal, evidence: Evidence): Attention {
  const counted = countedBy(claim);
  return counted !== undefined && !isUnfinished(counted.held) && !isOfStream(callsOf(counted.held))
    ? attendCount(counted, journal)
    : attendByItself(claim, journal, evidence);
}

function attendCount({ held, range }: Counted, journal: Journal): Attention {
  const { count, dropIfUnused } = watchersOn(journal).countOf(held);
  return {
    get standing() {
      return count.standing(range);
    },
    absent: () => undefined,
    isHopeful: () => true,
    listen(run) {
      const forget = count.listen(range, run);
      return () => {
        forget();
        dropIfUnused();
      };
    },
    leave: dropIfUnused,
  };
}

function attendByItself(claim: HeldClaim, journal: Journal, evidence: Evidence): Attention {
  const follower = new Follower(claim);
  const { hearing } = follower;
  const watchers = watchersOn(journal);
  const over = new Set<Target>();
  const streams = streamEnds(hearing.events);
  const noteEnd = ({ target, kind }: HeldEntry) => {
    if (kind === 'end' || kind === 'failure') over.add(target);
  };
  watchers.catchUp(follower, hearing);
  if (streams.length > 0) watchers.catchUp({ take: noteEnd }, { events: streams });
  return {
    get standing() {
      return follower.standing(evidence);
    },
    absent: () => follower.absent(),
    // Nothing more is to come of a stream that is over.
    isHopeful: () =>
      over.size === 0 ||
      follower.hopes((event) => !(isOfStream(callsOf(event)) && over.has(targetOf(event)))),
    listen(run) {
      const removeFollower = watchers.add(
        {
          take(entry, end, tick) {
            if (follower.take(entry, end, tick)) run();
          },
        },
        hearing,
      );
      if (streams.length === 0) return removeFollower;
      const removeEnds = watchers.add(
        {
          take(entry) {
            noteEnd(entry);
            run();
          },
        },
        { events: streams },
      );
      return () => {
        removeFollower();
        removeEnds();
      };
    },
    leave() {},
  };
}

/** The ends and failures of the streams of some patterns. */
function streamEnds(events: readonly (HeldEvent | undefined)[]): readonly HeldEvent[] {
  const found = new Map<Target, HeldEvent>();
  for (const event of events) {
    if (event === undefined) continue;
    const calls = callsOf(event);
    if (isOfStream(calls)) found.set(targetOf(event), { ...calls, claimed: undefined });
  }
  return [...found.values()].flatMap((event) => [
    { ...callsOf(event), of: 'end' as const },
    { ...callsOf(event), of: 'failure' as const },
  ]);
}
