import { recording, type Standing } from '../../packages/ekkon/tests/standing.ts';

/** Two objects of one platform class, and the expected result of comparing them. */
interface Pair {
  readonly make: () => object;
  /** How a claim of another one that was made in the same way stands. */
  readonly same: Standing;
  readonly different: readonly (() => object)[];
  readonly part: object;
  readonly otherPart: object;
}

/** The globals to make them with: those of Node, of a browser, or of a DOM written in JavaScript. */
type Globals = typeof globalThis;

/** A pair for each class that the globals have. */
export function pairsOf(globals: Globals): Readonly<Record<string, Pair>> {
  const { document } = globals as Partial<Globals>;
  const StormEvent = stormKind(globals);
  const pairs: Record<string, Pair | false> = {
    Event: {
      make: () => new globals.Event('storm', { cancelable: true }),
      same: 'holds',
      different: [
        () => new globals.Event('calm', { cancelable: true }),
        () => new globals.Event('storm'),
      ],
      part: { type: 'storm' },
      otherPart: { type: 'calm' },
    },
    CustomEvent: {
      make: () => new globals.CustomEvent('drift', { detail: { at: [83.6, 22] } }),
      same: 'holds',
      different: [() => new globals.CustomEvent('drift', { detail: { at: [83.6, 23] } })],
      part: { detail: { at: [83.6, 22] } },
      otherPart: { detail: { at: [83.6] } },
    },
    MouseEvent: typeof globals.MouseEvent === 'function' && {
      make: () => new globals.MouseEvent('click', { clientX: 4, shiftKey: true }),
      same: 'holds',
      different: [
        () => new globals.MouseEvent('click', { clientX: 5, shiftKey: true }),
        () => new globals.MouseEvent('click', { clientX: 4 }),
        () => new globals.MouseEvent('dblclick', { clientX: 4, shiftKey: true }),
      ],
      part: { type: 'click', clientX: 4 },
      otherPart: { type: 'click', clientX: 5 },
    },
    KeyboardEvent: typeof globals.KeyboardEvent === 'function' && {
      make: () => new globals.KeyboardEvent('keydown', { key: 'Escape' }),
      same: 'holds',
      different: [() => new globals.KeyboardEvent('keydown', { key: 'Enter' })],
      part: { key: 'Escape' },
      otherPart: { key: 'Enter' },
    },
    MessageEvent: {
      make: () => new globals.MessageEvent('message', { data: { star: 'Velmira' } }),
      same: 'holds',
      different: [() => new globals.MessageEvent('message', { data: { star: 'Oriane' } })],
      part: { data: { star: 'Velmira' } },
      otherPart: { data: { star: 'Oriane' } },
    },
    'an event of a kind of its own': {
      make: () => new StormEvent(7),
      same: 'holds',
      different: [() => new StormEvent(8)],
      part: { gusts: 7 },
      otherPart: { gusts: 8 },
    },
    Request: typeof globals.Request === 'function' && {
      make: () => new globals.Request('http://archive.example/frames', { method: 'DELETE' }),
      same: 'holds',
      different: [
        () => new globals.Request('http://archive.example/frames', { method: 'PUT' }),
        () => new globals.Request('http://archive.example/stars', { method: 'DELETE' }),
        () =>
          new globals.Request('http://archive.example/frames', {
            method: 'DELETE',
            headers: { 'x-night': '4' },
          }),
      ],
      part: { method: 'DELETE' },
      otherPart: { method: 'POST' },
    },
    'Request with a body': typeof globals.Request === 'function' && {
      make: () =>
        new globals.Request('http://archive.example/frames', { method: 'POST', body: 'frame' }),
      same: 'undecided',
      different: [
        () =>
          new globals.Request('http://archive.example/stars', { method: 'POST', body: 'frame' }),
      ],
      part: { method: 'POST' },
      otherPart: { method: 'PUT' },
    },
    Response: typeof globals.Response === 'function' && {
      make: () => new globals.Response(null, { status: 204, headers: { 'x-night': '4' } }),
      same: 'holds',
      different: [
        () => new globals.Response(null, { status: 500, headers: { 'x-night': '4' } }),
        () => new globals.Response(null, { status: 204 }),
      ],
      part: { status: 204, ok: true },
      otherPart: { status: 500 },
    },
    'Response with a body': typeof globals.Response === 'function' && {
      make: () => new globals.Response('frame', { status: 200 }),
      same: 'undecided',
      different: [() => new globals.Response('frame', { status: 500 })],
      part: { status: 200 },
      otherPart: { status: 500 },
    },
    Headers: {
      make: () => new globals.Headers({ 'X-Night': '4', accept: 'text/plain' }),
      same: 'holds',
      different: [
        () => new globals.Headers({ 'x-night': '5', accept: 'text/plain' }),
        () => new globals.Headers({ 'x-night': '4' }),
      ],
      part: { 'x-night': '4' },
      otherPart: { 'x-night': '5' },
    },
    FormData: {
      make: () => formOf(globals, ['star', 'Velmira'], ['seconds', '30']),
      same: 'holds',
      different: [
        () => formOf(globals, ['star', 'Oriane'], ['seconds', '30']),
        () => formOf(globals, ['star', 'Velmira'], ['seconds', '30'], ['seconds', '60']),
      ],
      part: { seconds: '30' },
      otherPart: { seconds: '60' },
    },
    Blob: {
      make: () => new globals.Blob(['frame'], { type: 'image/fits' }),
      same: 'undecided',
      different: [
        () => new globals.Blob(['frames'], { type: 'image/fits' }),
        () => new globals.Blob(['frame'], { type: 'text/plain' }),
      ],
      part: { type: 'image/fits', size: 5 },
      otherPart: { size: 6 },
    },
    'Blob with nothing in it': {
      make: () => new globals.Blob([]),
      same: 'holds',
      different: [() => new globals.Blob(['frame'])],
      part: { size: 0 },
      otherPart: { size: 1 },
    },
    File: typeof globals.File === 'function' && {
      make: () => new globals.File(['frame'], 'frame-1.fits', { lastModified: 4 }),
      same: 'undecided',
      different: [() => new globals.File(['frame'], 'frame-2.fits', { lastModified: 4 })],
      part: { name: 'frame-1.fits' },
      otherPart: { name: 'frame-2.fits' },
    },
    DOMException: {
      make: () => new globals.DOMException('too dark', 'AbortError'),
      same: 'holds',
      different: [
        () => new globals.DOMException('too dark', 'DataError'),
        () => new globals.DOMException('too bright', 'AbortError'),
      ],
      part: { name: 'AbortError' },
      otherPart: { name: 'DataError' },
    },
    'AbortSignal that is aborted': {
      make: () => signalOf(globals, 'rain'),
      same: 'holds',
      different: [() => signalOf(globals, 'wind'), () => new globals.AbortController().signal],
      part: { aborted: true, reason: 'rain' },
      otherPart: { aborted: false },
    },
    AbortSignal: {
      make: () => new globals.AbortController().signal,
      same: 'undecided',
      different: [() => signalOf(globals, 'rain')],
      part: { aborted: false },
      otherPart: { aborted: true },
    },
    URL: {
      make: () => new globals.URL('http://archive.example/frames?night=4'),
      same: 'holds',
      different: [() => new globals.URL('http://archive.example/frames?night=5')],
      part: { pathname: '/frames', search: '?night=4' },
      otherPart: { pathname: '/stars' },
    },
    URLSearchParams: {
      make: () => new globals.URLSearchParams('night=4&star=Velmira&star=Oriane'),
      same: 'holds',
      different: [
        () => new globals.URLSearchParams('night=5&star=Velmira&star=Oriane'),
        () => new globals.URLSearchParams('night=4&star=Velmira'),
      ],
      part: { night: '4', star: ['Velmira', 'Oriane'] },
      otherPart: { night: '5' },
    },
    'an element': document !== undefined && {
      make: () => document.createElement('button'),
      same: 'fails',
      different: [() => document.createElement('a'), () => document.createTextNode('close')],
      part: {},
      otherPart: {},
    },
  };
  return Object.fromEntries(
    Object.entries(pairs).filter((entry): entry is [string, Pair] => entry[1] !== false),
  );
}

/** The pairs with a wrong result; none if all are right. */
export function wrongOf(globals: Globals): readonly string[] {
  return Object.entries(pairsOf(globals)).flatMap(([name, pair]) => {
    const value = pair.make();
    const recorded = recording(value);
    const opposite = { holds: 'fails', fails: 'holds', undecided: 'undecided' } as const;
    const other = pair.make();
    const found: readonly (readonly [string, Standing, Standing])[] = [
      ['itself', recorded.is(value), 'holds'],
      ['not itself', recorded.isNot(value), 'fails'],
      ['inside another object', recording({ inside: [value] }).is({ inside: [value] }), 'holds'],
      ['another one that is the same', recorded.is(other), pair.same],
      ['not another one that is the same', recorded.isNot(other), opposite[pair.same]],
      ...pair.different.flatMap((make, at) => [
        [`different ${at}`, recorded.is(make()), 'fails'] as const,
        [`not different ${at}`, recorded.isNot(make()), 'holds'] as const,
      ]),
      ...(Object.keys(pair.part).length === 0
        ? []
        : [
            ['a part', recorded.has(pair.part), 'holds'] as const,
            ['another part', recorded.has(pair.otherPart), 'fails'] as const,
            ['a part that is not there', recorded.has({ nowhere: 1 }), 'fails'] as const,
          ]),
    ];
    return found
      .filter(([, standing, expected]) => standing !== expected)
      .map(([what, standing, expected]) => `${name}: ${what} ${standing} and not ${expected}`);
  });
}

/** Values that a member of an event may be made with; each is tried. */
const samples: readonly unknown[] = [7, 'dusk', true, { at: 'dusk' }];

/**
 * Events that are taken for equal though one of their accessors tells them apart: of every kind that the globals
 * have, made with and without each member that an accessor reads.
 */
export function eventsTakenForEqual(globals: Globals): readonly string[] {
  const names = Object.getOwnPropertyNames(globals).filter((name) => /Event$/.test(name));
  return names.flatMap((name) => {
    const kind = Reflect.get(globals, name) as typeof Event;
    const made = (init: object) => {
      try {
        return new kind('storm', init);
      } catch {
        return undefined;
      }
    };
    const plain = made({});
    if (plain === undefined) return [];
    const recorded = recording(plain);
    return accessorsOf(kind.prototype).flatMap((key) =>
      samples.flatMap((sample) => {
        const other = made({ [key]: sample });
        if (other === undefined || Object.is(Reflect.get(other, key), Reflect.get(plain, key)))
          return [];
        return recorded.is(other) === 'holds' ? [`${name}.${key}`] : [];
      }),
    );
  });
}

function accessorsOf(prototype: object): readonly string[] {
  const above: object | null = Object.getPrototypeOf(prototype);
  const own = Object.entries(Object.getOwnPropertyDescriptors(prototype)).flatMap(
    ([key, { get }]) => (get === undefined || key === 'timeStamp' ? [] : [key]),
  );
  return above === null ? own : [...own, ...accessorsOf(above)];
}

function stormKind(globals: Globals) {
  return class StormEvent extends globals.Event {
    gusts: number;
    constructor(gusts: number) {
      super('storm');
      this.gusts = gusts;
    }
  };
}

function formOf(globals: Globals, ...fields: readonly (readonly [string, string])[]): FormData {
  const form = new globals.FormData();
  for (const [name, value] of fields) form.append(name, value);
  return form;
}

function signalOf(globals: Globals, reason: string): AbortSignal {
  const controller = new globals.AbortController();
  controller.abort(reason);
  return controller.signal;
}
