import * as platform from 'node:module';
import { type Loaded, loading, type Resolved, resolving } from './hooks.ts';
import { readSeamOptions, type SeamOptions } from './options.ts';

type Next<T> = (asked: string, context: object) => T;

/** Node's own since 22.15, of which the types know nothing yet. */
interface HookRegistry {
  registerHooks?(hooks: {
    resolve(specifier: string, context: object, next: Next<Resolved>): Resolved;
    load(url: string, context: object, next: Next<Loaded>): Loaded;
  }): void;
}

/**
 * Makes the exports of modules replaceable under Node's own runner, for modules that are loaded later: call it in a
 * file that is loaded before them, `node --import ./register.js --test`. `node --import ekkon/seams --test` does the
 * same for the project's own modules, and for the packages in the environment variable `EKKON_SEAMS`, with commas
 * between them.
 *
 * @param options `of`: packages, and globs of modules, to make replaceable; `absent`: modules that exist only
 * inside a framework, with their exports
 * @throws TypeError if an option is invalid, or if there is no such option
 * @example
 * // register.js
 * import { registerSeams } from 'ekkon/seams';
 * registerSeams({ of: ['date-fns'] });
 */
export function registerSeams(options: SeamOptions = {}): void {
  const held = readSeamOptions(options, registerSeams);
  const { registerHooks } = platform as unknown as HookRegistry;
  if (registerHooks === undefined) {
    platform.register(new URL(/* @vite-ignore */ './seams-thread.js', import.meta.url), {
      data: options,
    });
    return;
  }
  registerHooks({
    resolve(specifier, context, next) {
      const asked = resolving(specifier, context, held);
      return 'answer' in asked ? asked.answer : asked.make(next(asked.ask, context));
    },
    load(url, context, next) {
      const asked = loading(url, held);
      return 'answer' in asked ? asked.answer : asked.make(next(asked.ask, context));
    },
  });
}

/** Registers the hooks if the process was started with `--import ekkon/seams`. */
export function registerIfPreloaded(): void {
  const words = [...process.execArgv, ...(process.env.NODE_OPTIONS ?? '').split(/\s+/)];
  const isAsked = words.some((word, at) => {
    const asked = word.startsWith('--import=') ? word.slice('--import='.length) : word;
    return asked === 'ekkon/seams' && (asked !== word || words[at - 1] === '--import');
  });
  if (!isAsked) return;
  const of = (process.env.EKKON_SEAMS ?? '').split(',').map((name) => name.trim());
  registerSeams({ of: of.filter((name) => name !== '') });
}
