import { safeText } from '../value/escape.ts';

const said = new Set<string>();

/** Prints a message for the person who runs the tests, besides the runner's output. */
export function tell(text: string): void {
  const { process } = globalThis as { readonly process?: NodeJS.Process };
  const line = `ekkon: ${safeText(text)}`;
  if (process?.stderr === undefined) console.warn(line);
  else process.stderr.write(`${line}\n`);
}

/** Says something that holds for the whole run once. */
export function tellOnce(text: string): void {
  if (said.has(text)) return;
  said.add(text);
  tell(text);
}
