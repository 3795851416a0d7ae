const { now } = Date;

/**
 * A recorder written by hand: a function that pushes the same facts into a plain array.
 *
 * @param {{ copy?: (args: unknown[]) => unknown[], sites?: boolean }} options `copy`: how arguments are
 * kept (by reference unless given); `sites`: whether call sites are kept as well; `real`: what is called
 */
export function handWritten({ copy, sites = false, real } = {}) {
  const calls = [];
  let tick = 0;
  let during;
  function recorded(...args) {
    const call = {
      id: calls.length + 1,
      member: 'mount.slewTo',
      args: copy === undefined ? args : copy(args),
      receiver: this,
      began: ++tick,
      beganAt: now(),
      ended: undefined,
      endedAt: undefined,
      outcome: undefined,
      site: undefined,
      parent: during,
    };
    if (sites) {
      call.site = {};
      Error.captureStackTrace(call.site, recorded);
    }
    calls.push(call);
    if (real !== undefined) {
      const outer = during;
      during = call.id;
      try {
        const value = real.apply(this, args);
        call.outcome = { state: 'returned', value };
        return value;
      } catch (reason) {
        call.outcome = { state: 'threw', reason };
        throw reason;
      } finally {
        call.ended = ++tick;
        call.endedAt = now();
        during = outer;
      }
    }
    call.ended = ++tick;
    call.endedAt = now();
    call.outcome = { state: 'returned', value: undefined };
    return undefined;
  }
  return { calls, recorded };
}
