import { once as eventOnce } from 'node:events';
import { closeSync, openSync } from 'node:fs';
import { writeAll } from '../file/write-all.ts';
import { safeText } from '../value/escape.ts';
import { inputProblem } from './input-problem.ts';

/** An output for commands that print much: only a part of it is in memory. */
export interface Sink {
  write(text: string): Promise<void>;
  end(): Promise<void>;
}

/** Characters that are written at a time. */
const part = 1 << 16;

/** A file to write, or standard output if it is left out or `-`. A file is made once there is something to write. */
export function openSink(output: string | undefined): Sink {
  const put = output === undefined || output === '-' ? toStandardOutput : intoFile(output);
  let held = '';
  return {
    async write(text) {
      held += keepingLineEnds(text);
      if (held.length < part) return;
      await put(held);
      held = '';
    },
    async end() {
      await put(held);
      await put(undefined);
    },
  };
}

/** A table in a file ends its lines in two characters. */
function keepingLineEnds(text: string): string {
  return text.split('\r\n').map(safeText).join('\r\n');
}

async function toStandardOutput(text: string | undefined): Promise<void> {
  if (text === undefined || process.stdout.write(text)) return;
  await eventOnce(process.stdout, 'drain');
}

/** @returns writes a text; without one, closes the file */
function intoFile(path: string): (text: string | undefined) => Promise<void> {
  let file: number | undefined;
  return async (text) => {
    try {
      file ??= openSync(path, 'w');
      if (text === undefined) closeSync(file);
      else writeAll(file, text);
    } catch (error) {
      throw inputProblem('convert -o', path, error);
    }
  };
}
