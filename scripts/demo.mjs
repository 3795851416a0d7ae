// The main job, seen whole: a night that goes well, then nights with a mistake switched on.
import { spawnSync } from 'node:child_process';

const fault = 'declination-lost';
const ekkon = (...args) => {
  console.log(`\n$ ekkon ${args.join(' ')}\n`);
  return spawnSync(process.execPath, ['packages/ekkon/dist/cli.js', ...args], { stdio: 'inherit' })
    .status;
};

const codes = [
  ekkon('demo'),
  ekkon('demo', '--fault', fault),
  ekkon('demo', '--rain', '--fault', 'park-not-awaited'),
];
if (codes.join() !== '0,1,1') {
  console.error(`the demo should have ended with 0, 1 and 1, and ended with ${codes.join(', ')}`);
  process.exitCode = 1;
}
