import { escapeControls } from '../value/escape.ts';

/** Lines after which a terminal is told how far the work is. */
const step = 200_000;

/** Prints how many lines were read on standard error, if that is a terminal. */
export function progressOf(file: string): { line(): void; done(): void } {
  let lines = 0;
  const isTold = process.stderr.isTTY === true;
  return {
    line() {
      lines++;
      if (isTold && lines % step === 0)
        process.stderr.write(
          `\r\u001b[Kekkon: ${escapeControls(file)}: ${lines.toLocaleString('en')} lines read`,
        );
    },
    done() {
      if (isTold && lines >= step) process.stderr.write('\r\u001b[K');
    },
  };
}
