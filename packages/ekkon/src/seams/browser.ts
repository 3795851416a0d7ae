export { importAgain, importFresh } from './import-again.ts';
