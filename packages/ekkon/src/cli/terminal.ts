import { randomInt } from 'node:crypto';
import { createColors } from 'picocolors';
import type { Paint, Role } from '../report/paint.ts';
import { safeText } from '../value/escape.ts';

/** Colours are for people: a pipe gets none, on a build machine neither, unless FORCE_COLOR asks for them. */
const { env, stdout } = process;
const isColoured =
  !env['NO_COLOR'] &&
  (Boolean(env['FORCE_COLOR']) || (stdout.isTTY === true && env['TERM'] !== 'dumb'));
const pc = createColors(isColoured);

const colours: Readonly<Record<Role, (text: string) => string>> = {
  heading: (text) => pc.bold(pc.red(text)),
  claim: pc.bold,
  culprit: pc.yellow,
  expected: pc.green,
  received: pc.red,
  faint: pc.dim,
  good: (text) => pc.bold(pc.green(text)),
};

/** Separates this process's own colors from recorded text, which cannot contain it: it is made anew in each run. */
const nonce = randomInt(2 ** 32);
const own = new RegExp(`\\u001b\\[(\\d+);0;${nonce}m`);

/** The text before and behind each role. */
const around = new Map(
  Object.entries(colours).map(([role, colour]) => {
    const marked = colour(' ').replaceAll(/\[(\d+)m/g, `[$1;0;${nonce}m`);
    return [role, marked.split(' ') as [string, string]] as const;
  }),
);

/** Colours for `print`; none if this terminal has none, or if NO_COLOR says so. */
export const paint: Paint = (role, text) => {
  const [before, after] = around.get(role) ?? ['', ''];
  return text === '' ? '' : `${before}${text}${after}`;
};

/** Columns of this terminal; 100 if the output is not a terminal. */
export function columns(): number {
  const told = Number(process.env['COLUMNS']);
  return process.stdout.columns ?? (told >= 40 ? told : 100);
}

/** Prints a text, with or without color: except for the colors, no control character reaches the terminal. */
export function print(text: string): void {
  const parts = text.split(own);
  // Every other part is the number of a color.
  const shown = parts.map((part, at) => (at % 2 === 0 ? safeText(part) : `\u001b[${part}m`));
  process.stdout.write(`${shown.join('')}\n`);
}

/** Prints a message beside the output of a command. */
export function warn(text: string): void {
  process.stderr.write(`ekkon: ${safeText(text)}\n`);
}
