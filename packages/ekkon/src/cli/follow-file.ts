import { closeSync, openSync, readSync } from 'node:fs';
import { setTimeout } from 'node:timers/promises';
import { LineSplitter } from '../file/line-splitter.ts';
import { printCall } from '../notation/call.ts';
import { entryData } from '../record/entry-data.ts';
import { LineReader } from '../record/read-lines.ts';
import { printSite } from '../report/places.ts';
import { printEnding } from '../report/summary-text.ts';
import { inputProblem } from './input-problem.ts';
import { paint, print } from './terminal.ts';

/** Milliseconds between two looks at a file that is being written. */
const pause = 100;

/** Prints each entry of a file as it ends, and goes on with what is written to it. */
export async function follow(
  file: string,
  { member, limit }: { readonly member?: string; readonly limit?: number },
): Promise<void> {
  let reader: LineReader | undefined;
  let number = 0;
  let shown = 0;
  const take = (text: string) => {
    number++;
    if (reader === undefined) {
      reader = new LineReader(text);
      return;
    }
    const told = reader.take(text, number);
    if (told?.is !== 'ends') return;
    const entry = entryData(told.entry);
    if (member !== undefined && entry.label !== member && entry.double !== member) return;
    shown++;
    print(
      `#${String(entry.id).padEnd(5)} ${printCall(entry)}   ${paint('faint', `${printEnding(entry)}   ${printSite(entry.site)}`)}`,
    );
  };
  try {
    for await (const line of linesAsWritten(file)) {
      take(line);
      if (limit !== undefined && shown >= limit) return;
    }
  } catch (error) {
    throw inputProblem('show --follow', file, error);
  }
}

/** The whole lines of a file as they are written, without an end. */
async function* linesAsWritten(file: string): AsyncGenerator<string> {
  const opened = openSync(file, 'r');
  const buffer = Buffer.alloc(1 << 16);
  const splitter = new LineSplitter();
  try {
    for (;;) {
      const read = readSync(opened, buffer, 0, buffer.length, null);
      if (read === 0) {
        await setTimeout(pause);
        continue;
      }
      yield* splitter.take(buffer.subarray(0, read));
    }
  } finally {
    closeSync(opened);
  }
}
