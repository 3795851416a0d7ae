import type { Ledger } from '../ledger/ledger.ts';
import { setting } from '../ledger/setting.ts';
import { tell } from '../ledger/tell.ts';
import { tied } from '../record/tie.ts';
import type { PageRecord } from '../report/page-data.ts';

/**
 * The longest name of a saved file, and the longest suffix that makes it unique, in bytes each: a file system takes
 * 255 in all.
 */
const longestName = 100;

/**
 * Writes a ledger to the folder that the environment variable `EKKON_SAVE` names, with a report page beside it, and
 * says where they are. If they cannot be written, it says why, and the test goes on.
 *
 * @param name the name of the file: the test's whole name
 * @param unique a suffix that makes the name unique
 * @param saveFromPage does the work of `writeSaved` where tests run in a page
 */
export async function saveIfAsked(
  ledger: Ledger,
  name: string,
  unique: string,
  saveFromPage?: (path: string, text: string, record: PageRecord) => Promise<void>,
): Promise<void> {
  const folder = setting('EKKON_SAVE');
  const journal = tied(ledger)?.journal;
  if (folder === undefined || journal === undefined) return;
  const path = `${folder.replace(/[/\\]$/, '')}/${fileName(name)}.${fileName(unique)}`;
  try {
    const { ledgerText } = await import('./ledger-text.ts');
    const { pageRecordOf } = await import('./page-record.ts');
    const [text, record] = [ledgerText(journal), pageRecordOf(journal, name)];
    if (typeof process === 'undefined') await saveFromPage?.(path, text, record);
    // A page, which has no files, can import a fixture that only asks for them here.
    else (await import('./write-saved.ts')).writeSaved(path, text, record);
    tell(`the ledger of "${ledger.name}" is saved in ${path}.ledger.jsonl`);
    tell(`its report page is ${path}.html`);
  } catch (error) {
    tell(`EKKON_SAVE=${folder}: the ledger cannot be saved: ${error}`);
  }
}

function fileName(text: string): string {
  const plain = text.normalize('NFC').replace(/[^\p{L}\p{N}]+/gu, '-');
  return firstBytes(plain.replace(/^-|-$/g, ''), longestName);
}

/** As many whole characters of a text as fit into so many bytes. */
function firstBytes(text: string, most: number): string {
  const { read } = new TextEncoder().encodeInto(text, new Uint8Array(most));
  return text.slice(0, read);
}
