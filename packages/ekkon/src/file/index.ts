export type { SavedLedger } from '../record/lines.ts';
export { loadLedger, saveLedger } from './ledger-file.ts';
