import { type CapturedSite, captureSite } from '../record/call-site.ts';
import { soon } from '../record/settle.ts';
import { makeOwn, printsAs } from '../value/prints-as.ts';
import { takesOnly } from '../value/takes-only.ts';
import type { Reply } from './reply.ts';

/** A reply whose promise the test settles. */
export interface Deferred<T> extends Reply<Promise<T>> {
  /** Fulfils the promise, now or for the next call. */
  fulfil(value: T): void;
  /** Rejects the promise. */
  reject(reason: unknown): void;
}

/** How a deferred promise was settled. */
export interface Settled {
  readonly state: 'fulfilled' | 'rejected';
  readonly result: unknown;
}

/** A deferred reply behind its public type. */
export interface HeldDeferred {
  readonly kind: 'deferred';
  /** Where it was made. */
  readonly made: CapturedSite;
  /** Gives the promise for one call; `heard` is told before it settles, and never in the call's own turn. */
  take(heard: (settled: Settled) => void): Promise<unknown>;
  readonly [printsAs]: string;
}

/**
 * Replies with a promise that the test settles. All calls that it answers wait for the same result. Once it is settled,
 * later calls get a promise that settles at once.
 *
 * @example
 * const slewed = deferred();
 * plan(call(mount.slewTo), slewed);
 * const slewing = mount.slewTo(83.6, 22);
 * slewed.fulfil();
 * await slewing;
 */
export function deferred<T = void>(): Deferred<T> {
  takesOnly(0, arguments, deferred);
  const waiting: ((settled: Settled) => void)[] = [];
  let settled: Settled | undefined;

  function settle(how: Settled): void {
    if (settled !== undefined) return;
    settled = how;
    for (const tell of waiting.splice(0)) tell(how);
  }

  const made = captureSite(deferred);
  const held: HeldDeferred & Pick<Deferred<T>, 'fulfil' | 'reject'> = {
    kind: 'deferred',
    made,
    take(heard) {
      return new Promise((resolve, reject) => {
        let isOwnTurn = true;
        soon(() => {
          isOwnTurn = false;
        });
        const pass = (how: Settled) => {
          heard(how);
          if (how.state === 'fulfilled') resolve(how.result);
          else reject(how.result);
        };
        const tell = (how: Settled) => {
          if (isOwnTurn) soon(() => pass(how));
          else pass(how);
        };
        if (settled === undefined) waiting.push(tell);
        else tell(settled);
      });
    },
    fulfil: (value) => settle({ state: 'fulfilled', result: value }),
    reject: (reason) => settle({ state: 'rejected', result: reason }),
    [printsAs]: 'deferred',
  };
  return makeOwn(held) as unknown as Deferred<T>;
}
