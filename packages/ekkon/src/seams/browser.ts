export { importFresh } from './import-fresh.ts';
