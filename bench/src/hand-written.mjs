/**
 * What somebody writes by hand: a function that pushes the same facts into a plain array.
 *
 * @param {{ copy?: (args: unknown[]) => unknown[], sites?: boolean }} options `copy`: how arguments are
 * kept (by reference unless given); `sites`: whether call sites are kept as well
 */
export function handWritten({ copy, sites = false } = {}) {
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
      ended: undefined,
      outcome: undefined,
      site: undefined,
      parent: during,
    };
    if (sites) {
      call.site = {};
      Error.captureStackTrace(call.site, recorded);
    }
    calls.push(call);
    call.ended = ++tick;
    call.outcome = { state: 'returned', value: undefined };
  }
  return { calls, recorded };
}
