// Loads a module 1,000 times more, and prints how many kilobytes that kept.
import { importAgain } from 'ekkon/seams';

const load = () => importAgain(() => import('./src/set-up.js'));
const kept = () => {
  globalThis.gc();
  return process.memoryUsage().heapUsed / 1024;
};
for (let count = 0; count < 50; count++) await load();
const before = kept();
for (let count = 0; count < 1_000; count++) await load();
console.log(`RESULTS ${JSON.stringify({ kilobytes: kept() - before, runs: globalThis.setUps })}`);
