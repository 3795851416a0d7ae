import { runSuite } from './suite.js';

globalThis.results = await runSuite();
