import { runSuite } from './suite.js';

console.log(`RESULTS ${JSON.stringify(await runSuite())}`);
