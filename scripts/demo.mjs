// The main job, seen whole: a night that goes well, then the same night with a mistake switched on.
import { spawnSync } from 'node:child_process';

const fault = 'declination-lost';
const ekkon = (...args) => {
  console.log(`\n$ ekkon ${args.join(' ')}\n`);
  return spawnSync(process.execPath, ['packages/ekkon/dist/cli.js', ...args], { stdio: 'inherit' })
    .status;
};

const [well, faulty] = [ekkon('demo'), ekkon('demo', '--fault', fault)];
if (well !== 0 || faulty !== 1) {
  console.error(`the demo should have ended with 0 and 1, and ended with ${well} and ${faulty}`);
  process.exitCode = 1;
}
