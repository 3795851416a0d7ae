import * as ekkon from 'ekkon';
import * as requests from 'ekkon/requests';
import { start } from './start.tsx';

/** The tools of a test in the page: Ekkon, and the desk, which starts when all is ready. */
export const tested = { ekkon, requests, start };
Object.assign(globalThis, { tested });
