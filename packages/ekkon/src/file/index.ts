export type { LoadedEntry, LoadedLedger } from '../record/lines.ts';
export { loadLedger, saveLedger } from './ledger-file.ts';
