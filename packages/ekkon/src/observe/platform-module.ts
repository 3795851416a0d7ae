import type { Below } from '../value/below.ts';
import { framesBelow } from '../value/call-stack.ts';
import { idsLoaded, loadedModule } from '../value/platform/loaded-module.ts';
import { isHeldObject } from './held-object.ts';
import type { Seam } from './seam.ts';

/** A module of the platform: importers see the object that `require` returns for it. */
interface PlatformModule {
  /** The place of a function that it exports. */
  seam(key: PropertyKey, real: unknown): Seam | undefined;
}

interface Loader {
  syncBuiltinESMExports(): void;
}

/** The platform module behind an object: its namespace, or its whole export. `undefined` for any other object. */
export function platformModule(target: object): PlatformModule | undefined {
  const loader = loadedModule('module') as Loader | undefined;
  if (loader === undefined) return undefined;
  const exported = idsLoaded()
    .map((id) => ({ id, all: loadedModule(id) }))
    .find(({ all }) => all === target || all === defaultOf(target));
  if (exported === undefined || !isHeldObject(exported.all)) return undefined;
  const { id, all } = exported;
  return {
    seam(key, real) {
      const own = Object.getOwnPropertyDescriptor(all, key);
      if (own === undefined || own.value !== real || own.configurable !== true) return undefined;
      const define = (descriptor: PropertyDescriptor) => {
        Object.defineProperty(all, key, descriptor);
        loader.syncBuiltinESMExports();
      };
      const probe = () => {};
      define({ ...own, value: probe });
      const isSeen = Reflect.get(target, key) === probe;
      define(own);
      // A context of its own may have been given a copy of the module.
      if (!isSeen) return undefined;
      return {
        module: id,
        isPlatform: true,
        read: () => Reflect.get(all, key),
        put: (value) => define({ ...own, value }),
        putBack: () => define(own),
      };
    },
  };
}

function defaultOf(target: object): unknown {
  try {
    return (target as { readonly default?: unknown }).default;
  } catch {
    return undefined;
  }
}

/**
 * Whether a function is being called by the platform's own code, as its loader reads files by `fs`, or by a
 * loader that was added to it: a replacement that answered such a call would take the process down.
 *
 * @param below the function whose caller is meant
 */
export function isPlatformCalling(below: Below): boolean {
  const frames = framesBelow(below, framesKept);
  const [caller] = frames;
  if (isInternal(caller)) return !handsOn.test(caller?.getFileName() ?? '');
  const entered = frames.find(isInternal);
  // The loader also calls evaluated code, which is code under test.
  return loaders.test(entered?.getFileName() ?? '') && !isEvaluating(entered);
}

/** Where the platform calls functions that it received, as timers do. */
const handsOn = /^node:internal\/(?:timers|process\/task_queues|event_target|util|promises)\b/;

/** Where the platform asks others how to load a module. */
const loaders = /^node:internal\/modules\/(?:cjs\/loader|customization_hooks|esm\/hooks)$/;

/** How far up a loader's own functions may be nested. */
const framesKept = 12;

type Frame = NodeJS.CallSite | undefined;

function isInternal(frame: Frame): boolean {
  return internal.test(frame?.getFileName() ?? '');
}

/** Code of the platform that calls what other modules export: as `fs` resolves paths. */
const internal = /^node:(?:internal\/|(?:fs|path|url|module)$)/;

function isEvaluating(frame: Frame): boolean {
  return frame?.getFunctionName()?.endsWith('_compile') === true;
}
