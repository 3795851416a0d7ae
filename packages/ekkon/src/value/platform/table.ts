import { nameOfClass } from '../class-name.ts';
import { abortSignal } from './abort-signal.ts';
import { blob } from './blob.ts';
import { domException } from './dom-exception.ts';
import { event, eventKinds } from './event.ts';
import { file } from './file.ts';
import { formData } from './form-data.ts';
import { headers } from './headers.ts';
import type { PlatformClass } from './platform-class.ts';
import { request } from './request.ts';
import { response } from './response.ts';
import { url } from './url.ts';
import { urlSearchParams } from './url-search-params.ts';

/** The classes of the platform whose instances are looked into by what they show. */
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

/** Those that add to one of the above, and are known by their name. */
const heirs: readonly PlatformClass[] = [file, ...eventKinds];

/** What has an identity: two of them are never the same, whatever they hold. By class, with members that tell it. */
const identities: Readonly<Record<string, readonly string[]>> = {
  ChildProcess: ['kill'],
  CryptoKey: ['algorithm', 'extractable'],
  EventTarget: ['addEventListener', 'dispatchEvent'],
  KeyObject: ['export'],
  MessagePort: ['postMessage'],
  Node: ['nodeName', 'nodeType'],
  Promise: ['then', 'finally'],
  ReadableStream: ['getReader'],
  Server: ['address', 'listen'],
  Socket: ['bind', 'send'],
  Stream: ['pipe'],
  TransformStream: ['readable', 'writable'],
  WebSocket: ['close', 'send'],
  Worker: ['postMessage', 'terminate'],
  WritableStream: ['getWriter'],
};

const byName: ReadonlyMap<string, PlatformClass> = new Map(
  classes.map((each) => [each.name, each]),
);
const heirsByName: ReadonlyMap<string, PlatformClass> = new Map(
  heirs.map((each) => [each.name, each]),
);

/** The class of the platform with a name. */
export function classCalled(name: string): PlatformClass | undefined {
  return byName.get(name) ?? heirsByName.get(name);
}

/** What the instances of a class of the platform are, as far as recording is concerned. */
export interface Recognised {
  /** The class, and those that add to it, the most general first; none if it is a thing with an identity. */
  readonly classes: readonly PlatformClass[];
  /** The prototype at which the platform's part of the chain begins. */
  readonly prototype: object;
  /** Whether primitives among its own properties say something of it: a request's method and address, say. */
  readonly isTelling: boolean;
}

/**
 * Tells a class of the platform, or one derived from it, by the names and the members of its prototypes:
 * the same in Node, in a browser and in a DOM written in JavaScript.
 */
export function recognise(prototype: object): Recognised | undefined {
  if (known.has(prototype)) return known.get(prototype);
  const recognised = recogniseAnew(prototype);
  known.set(prototype, recognised);
  return recognised;
}

const known = new WeakMap<object, Recognised | undefined>();

function recogniseAnew(prototype: object): Recognised | undefined {
  const found: PlatformClass[] = [];
  let first: object | undefined;
  let current: object | null = prototype;
  for (let depth = 0; current !== null && depth < 64; depth++) {
    const name = nameOfClass(current);
    const known = name === undefined ? undefined : byName.get(name);
    if (known !== undefined && hasAll(current, known.has)) {
      return { classes: [known, ...found], prototype: first ?? current, isTelling: true };
    }
    const heir = name === undefined ? undefined : heirsByName.get(name);
    if (heir !== undefined) {
      found.unshift(heir);
      first ??= current;
    }
    const marks =
      name !== undefined && Object.hasOwn(identities, name) ? identities[name] : undefined;
    if (marks !== undefined && hasAll(current, marks))
      return { classes: [], prototype: current, isTelling: name === 'Stream' };
    current = Object.getPrototypeOf(current);
  }
  return undefined;
}

function hasAll(prototype: object, members: readonly string[]): boolean {
  return members.every((member) => Object.hasOwn(prototype, member));
}
