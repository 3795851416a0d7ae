/** Rounds in which each side runs once, one right after the other, so noise affects both. */
const measured = 15;
const warmUps = 3;

/**
 * Runs two ways of doing the same, in turns, and gives the median of their ratios.
 *
 * @param {(() => unknown) & { prepare?: () => void }} ours `prepare` runs before each round, unmeasured
 * @param {(() => unknown) & { prepare?: () => void }} other
 * @returns {{ ratio: number, ours: number, other: number }} the ratio ours / other, and the median
 * milliseconds of each
 */
export function compareTimes(ours, other) {
  const pairs = rounds((round) => {
    // The second side finds a fuller heap, so they change places every round.
    if (round % 2 === 0) return { ours: timeOf(ours), other: timeOf(other) };
    const second = timeOf(other);
    return { ours: timeOf(ours), other: second };
  });
  return medians(pairs);
}

/**
 * The same for functions that return promises.
 *
 * @param {() => Promise<unknown>} ours
 * @param {() => Promise<unknown>} other
 * @returns {Promise<{ ratio: number, ours: number, other: number }>}
 */
export async function compareTimesAsync(ours, other) {
  const pairs = [];
  for (const measure of rounds((round) => async () => {
    if (round % 2 === 0) return { ours: await timeOfAsync(ours), other: await timeOfAsync(other) };
    const second = await timeOfAsync(other);
    return { ours: await timeOfAsync(ours), other: second };
  }))
    pairs.push(await measure());
  return medians(pairs);
}

/** One result for each round; the first few rounds only warm up. */
function rounds(measure) {
  return Array.from({ length: warmUps + measured }, (_, round) => measure(round));
}

function medians(pairs) {
  const times = pairs.slice(warmUps);
  return {
    ratio: median(times.map((time) => time.ours / time.other)),
    ours: median(times.map((time) => time.ours)),
    other: median(times.map((time) => time.other)),
  };
}

function timeOf(run) {
  run.prepare?.();
  globalThis.gc?.();
  const start = performance.now();
  run();
  return performance.now() - start;
}

async function timeOfAsync(run) {
  run.prepare?.();
  globalThis.gc?.();
  const start = performance.now();
  await run();
  return performance.now() - start;
}

/**
 * Bytes that stay on the heap for each of `count` items, as long as the result of `keep` is held.
 *
 * @param {() => unknown} keep
 * @param {number} count
 */
export function bytesKept(keep, count) {
  const rooms = Array.from({ length: 5 }, () => {
    globalThis.gc?.();
    const before = process.memoryUsage().heapUsed;
    const kept = keep();
    globalThis.gc?.();
    const after = process.memoryUsage().heapUsed;
    return kept === undefined ? Number.NaN : (after - before) / count;
  });
  return median(rooms);
}

function median(numbers) {
  const sorted = [...numbers].sort((one, other) => one - other);
  return sorted[Math.floor(sorted.length / 2)];
}

/**
 * Prints one line of the table.
 *
 * @param {string} what
 * @param {number} ratio
 * @param {string} aim
 * @param {string} detail
 */
export function printRow(what, ratio, aim, detail) {
  console.log(`${what.padEnd(58)} ${ratio.toFixed(2).padStart(6)}   ${aim.padEnd(10)} ${detail}`);
}
