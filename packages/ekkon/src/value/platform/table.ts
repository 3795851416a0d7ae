import { nameOfClass } from '../class-name.ts';
import { abortSignal } from './abort-signal.ts';
import { blob } from './blob.ts';
import { isPlatformHeir, isPlatforms, type Marks } from './brand.ts';
import { domException } from './dom-exception.ts';
import { event } from './event.ts';
import { eventKind } from './event-kinds.ts';
import { file } from './file.ts';
import { formData } from './form-data.ts';
import { headers } from './headers.ts';
import type { PlatformClass } from './platform-class.ts';
import { request } from './request.ts';
import { response } from './response.ts';
import { url } from './url.ts';
import { urlSearchParams } from './url-search-params.ts';

/** The platform classes whose instances are compared by their visible state. */
const classes: readonly PlatformClass[] = [
  abortSignal,
  blob,
  domException,
  event,
  formData,
  headers,
  request,
  response,
  url,
  urlSearchParams,
];

/** Classes with an identity: two instances are never equal, whatever their content. */
const identities: readonly Marks[] = [
  { name: 'ChildProcess', has: ['kill'], module: 'child_process' },
  { name: 'CryptoKey', has: ['algorithm', 'extractable'] },
  {
    name: 'EventTarget',
    has: ['addEventListener', 'dispatchEvent'],
    whole: ['removeEventListener', Symbol.toStringTag],
  },
  { name: 'KeyObject', has: ['equals'], module: 'crypto' },
  { name: 'MessagePort', has: ['postMessage'], module: 'worker_threads' },
  { name: 'Node', has: ['nodeName', 'nodeType'] },
  { name: 'Promise', has: ['then', 'finally'] },
  { name: 'ReadableStream', has: ['getReader', 'locked'] },
  { name: 'Server', has: ['address', 'listen'], module: 'net' },
  { name: 'Socket', has: ['bind', 'send'], module: 'dgram' },
  { name: 'Stream', has: ['pipe'], module: 'stream' },
  { name: 'TransformStream', has: ['readable', 'writable'] },
  { name: 'WebSocket', has: ['close', 'send', 'readyState'] },
  { name: 'Worker', has: ['postMessage', 'terminate'], module: 'worker_threads' },
  { name: 'WritableStream', has: ['getWriter', 'locked'] },
];

const identitiesByName: ReadonlyMap<string, Marks> = new Map(
  identities.map((each) => [each.name, each]),
);
const byName: ReadonlyMap<string, PlatformClass> = new Map(
  classes.map((each) => [each.name, each]),
);

/** The class of the platform with a name. */
export function classCalled(name: string): PlatformClass | undefined {
  return byName.get(name) ?? heirCalled(name);
}

/** A class that adds to one of those in the table, and is known by its name. */
function heirCalled(name: string): PlatformClass | undefined {
  if (name === file.name) return file;
  return name.endsWith('Event') ? eventKind(name) : undefined;
}

/** The instances of a platform class, as far as recording needs to know. */
export interface Recognised {
  /** The class, and those that add to it, the most general first; none if it is a thing with an identity. */
  readonly classes: readonly PlatformClass[];
  /** The prototype at which the platform's part of the chain begins. */
  readonly prototype: object;
  /** Whether primitives among its own properties say something of it: a request's method and address, say. */
  readonly isTelling: boolean;
  /** Accessors of the platform's prototypes that are not in the table: their values are not compared. */
  readonly unknown: readonly string[];
}

/**
 * Recognizes a platform class, or one derived from it, by marks that only the platform's prototypes have: the same in
 * Node, in a browser and in a DOM written in JavaScript.
 */
export function recognise(prototype: object): Recognised | undefined {
  if (known.has(prototype)) return known.get(prototype);
  const recognised = recogniseAnew(prototype);
  known.set(prototype, recognised);
  return recognised;
}

const known = new WeakMap<object, Recognised | undefined>();

function recogniseAnew(prototype: object): Recognised | undefined {
  const above: PlatformClass[] = [];
  const prototypes: object[] = [];
  let current: object | null = prototype;
  for (let depth = 0; current !== null && depth < 64; depth++) {
    const name = nameOfClass(current);
    const root = name === undefined ? undefined : byName.get(name);
    if (root !== undefined && isPlatforms(current, root)) {
      const classes = [root, ...above];
      prototypes.push(current);
      const unknown = unknownIn(prototypes, classes);
      return { classes, prototype: prototypes[0] as object, isTelling: true, unknown };
    }
    const thing = name === undefined ? undefined : identitiesByName.get(name);
    if (thing !== undefined && isPlatforms(current, thing))
      return { classes: [], prototype: current, isTelling: name === 'Stream', unknown: [] };
    const heir = name === undefined ? undefined : heirCalled(name);
    if (heir !== undefined) above.unshift(heir);
    if (name !== undefined && (heir !== undefined || isPlatformHeir(current, name)))
      prototypes.push(current);
    current = Object.getPrototypeOf(current);
  }
  return undefined;
}

/** The names of accessors that none of the classes has an entry for. */
function unknownIn(
  prototypes: readonly object[],
  classes: readonly PlatformClass[],
): readonly string[] {
  const told = new Set(
    classes.flatMap(({ keys = [], fixed = [], apart = [] }) => [...keys, ...fixed, ...apart]),
  );
  return prototypes.flatMap((prototype) =>
    Object.entries(Object.getOwnPropertyDescriptors(prototype)).flatMap(([key, { get }]) =>
      get === undefined || told.has(key) || /^on[a-z]/.test(key) ? [] : [key],
    ),
  );
}
