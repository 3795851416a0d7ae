import { spawnSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';

const cli = fileURLToPath(new URL('../dist/cli.js', import.meta.url));

const coloured = { NO_COLOR: undefined, FORCE_COLOR: '1' };

/** What a command printed, and how it ended. */
export interface Ended {
  readonly code: number | null;
  readonly out: string;
  readonly err: string;
}

/** Runs the built command line as a user does. */
export function ekkon(...args: readonly string[]): Ended {
  return run(args, { NO_COLOR: '1', FORCE_COLOR: undefined });
}

/** Runs it as in a terminal that has colours. */
ekkon.coloured = (...args: readonly string[]): Ended => run(args, coloured);

/** Runs it so, with a module that is loaded before. */
ekkon.colouredAfter = (before: string, ...args: readonly string[]): Ended =>
  run(args, { ...coloured, NODE_OPTIONS: `--import data:text/javascript,${encodeURIComponent(before)}` });

/** Runs it with a text as its standard input. */
ekkon.given = (input: string, env: NodeJS.ProcessEnv, ...args: readonly string[]): Ended => run(args, { NO_COLOR: '1', ...env }, input);

function run(args: readonly string[], env: NodeJS.ProcessEnv, input?: string): Ended {
  const { status, stdout, stderr } = spawnSync(process.execPath, [cli, ...args], {
    encoding: 'utf8',
    input,
    env: { ...process.env, ...env },
  });
  return { code: status, out: stdout, err: stderr };
}
