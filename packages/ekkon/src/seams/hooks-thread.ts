import type { InitializeHook, LoadHook, ResolveHook } from 'node:module';
import { type Loaded, loading, type Resolved, resolving } from './hooks.ts';
import { type HeldSeamOptions, readSeamOptions, type SeamOptions } from './options.ts';

/** The hooks as platforms run them that have a thread of its own for them. */
let held: HeldSeamOptions;

export const initialize: InitializeHook<SeamOptions> = (options) => {
  held = readSeamOptions(options, initialize);
};

export const resolve: ResolveHook = async (specifier, context, next) => {
  const asked = resolving(specifier, context, held);
  if ('answer' in asked) return asked.answer as never;
  return asked.make((await next(asked.ask, context)) as Resolved) as never;
};

export const load: LoadHook = async (url, context, next) => {
  const asked = loading(url, held);
  if ('answer' in asked) return asked.answer as never;
  return asked.make((await next(asked.ask, context)) as Loaded) as never;
};
