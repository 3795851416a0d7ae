import type { Below } from './below.ts';
import { refuse } from './refuse.ts';

/** What to write for several, by the name of a public function. */
const forSeveral: Readonly<Record<string, string>> = {
  once: 'once(call(dome.open)), once(call(dome.close))',
  never: 'never(call(dome.open)), never(call(dome.close))',
  times: 'times(2, call(dome.open)), times(2, call(dome.close))',
  inFlight: 'inFlight(1, call(dome.open)), inFlight(1, call(dome.close))',
  onlyAfter:
    'onlyAfter(call(dome.close), call(dome.open)), onlyAfter(call(mount.park), call(dome.open))',
  leadsTo: 'leadsTo(call(dome.open), call(dome.close)), leadsTo(call(dome.open), call(mount.park))',
  during:
    'during({ from: call(dome.open) }, once(call(mount.park))), during({ from: call(dome.open) }, never(call(dome.close)))',
  exactItems: 'exactItems(rain, [1, 2])',
  optional: 'optional(inTurn(call(dome.open), call(dome.close)))',
  loop: 'loop(2, inTurn(call(dome.open), call(dome.close)))',
  call: 'call(mount.slewTo, [10, 20])',
  reads: "returned(reads(gauge, 'temperature'), 5)",
  settled: 'fulfilled(call(mount.slewTo), 5)',
  typeOf: "anyOf(typeOf('string'), typeOf('number'))",
  instanceOf: 'anyOf(instanceOf(Date), instanceOf(Map))',
  textLike: 'textLike(/dusk/i)',
  startsWith: "anyOf(startsWith('dusk'), startsWith('dawn'))",
  endsWith: "anyOf(endsWith('dusk'), endsWith('dawn'))",
  includes: 'allOf(includes(1), includes(2))',
  allItems: 'allItems(anyOf(1, 2))',
  unordered: 'unordered([1, 2])',
  partial: 'partial({ ra: 10, dec: 20 })',
  not: 'not(anyOf(1, 2))',
  gives: 'plan(call(dome.open), gives(1), gives(2))',
  throws: "plan(call(dome.open), throws(new Error('ice')), throws(new Error('wind')))",
  fulfils: 'plan(call(mount.slewTo), fulfils(1), fulfils(2))',
  rejects: "plan(call(mount.slewTo), rejects(new Error('ice')), rejects(new Error('wind')))",
  computes: 'plan(call(dome.open), computes(() => 1), computes(() => 2))',
  responds:
    "plan(request(fetch, 'GET', '/nights'), responds({ status: 503 }), responds({ status: 200 }))",
  callsBack: 'callsBack([1, 2])',
  entries: 'ledger.entries(call(dome.open)), ledger.entries(call(dome.close))',
};

/**
 * Refuses more values than a function takes: extra ones would be ignored, so the claim would be weaker than it reads.
 *
 * @param most how many values it takes
 * @param given its `arguments`; a list's `map` may add more
 * @param below the public function
 */
export function takesOnly(most: number, given: ArrayLike<unknown>, below: Below): void {
  if (given.length <= most || (most < 2 && isOfMap(given))) return;
  const values = most === 0 ? 'no value' : most === 1 ? 'one value' : `${most} values`;
  const instead = forSeveral[below.name];
  refuse(
    `${below.name}() takes ${values} and was given ${given.length}, so the last would be ignored.${instead === undefined ? '' : ` Write ${instead}.`}`,
    below,
  );
}

/** Whether these are an item of a list, its place and the list, as `list.map(once)` gives them. */
function isOfMap(given: ArrayLike<unknown>): boolean {
  const [item, place, list] = [given[0], given[1], given[2]];
  return given.length === 3 && Array.isArray(list) && list[place as number] === item;
}
