export type { LoadedEntry } from '../record/read-lines.ts';
export {
  type FileAddress,
  type LoadedLedger,
  loadLedger,
  saveAsItGrows,
  saveLedger,
} from './ledger-file.ts';
export { repliesFrom, replyAll } from './replies.ts';
