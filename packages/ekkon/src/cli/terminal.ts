import pc from 'picocolors';
import type { Paint, Role } from '../report/paint.ts';

const colours: Readonly<Record<Role, (text: string) => string>> = {
  heading: (text) => pc.bold(pc.red(text)),
  claim: pc.bold,
  culprit: pc.yellow,
  claimed: pc.green,
  recorded: pc.red,
  faint: pc.dim,
  good: (text) => pc.bold(pc.green(text)),
};

/** Colours for this terminal; none if it has none, or if NO_COLOR says so. */
export const paint: Paint = (role, text) => (text === '' ? '' : colours[role](text));

/** Columns of this terminal; 100 if the output is no terminal. */
export function columns(): number {
  const told = Number(process.env['COLUMNS']);
  return process.stdout.columns ?? (told >= 40 ? told : 100);
}

export function print(text: string): void {
  process.stdout.write(`${text}\n`);
}
