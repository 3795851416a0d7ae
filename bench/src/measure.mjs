/** Rounds in which each side runs once, one straight after the other, so that noise hits both. */
const rounds = 15;

/**
 * Runs two ways of doing the same, in turns, and gives the median of their ratios.
 *
 * @param {() => unknown} ours
 * @param {() => unknown} other
 * @returns {{ ratio: number, ours: number, other: number }} the ratio ours / other, and the median
 * milliseconds of each
 */
export function compareTimes(ours, other) {
  for (let warm = 0; warm < 3; warm++) {
    ours();
    other();
  }
  const times = Array.from({ length: rounds }, (_, round) => {
    // Whoever goes second finds a fuller heap: they change places every round.
    if (round % 2 === 0) return { ours: timeOf(ours), other: timeOf(other) };
    const second = timeOf(other);
    return { ours: timeOf(ours), other: second };
  });
  return {
    ratio: median(times.map((time) => time.ours / time.other)),
    ours: median(times.map((time) => time.ours)),
    other: median(times.map((time) => time.other)),
  };
}

function timeOf(run) {
  globalThis.gc?.();
  const start = performance.now();
  run();
  return performance.now() - start;
}

/**
 * Bytes that stay on the heap for each of `count` things, as long as what `keep` gives is held.
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
