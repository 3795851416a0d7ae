import {
  call,
  callsBack,
  check,
  computes,
  fulfils,
  gives,
  instances,
  inTurn,
  type Ledger,
  never,
  once,
  openLedger,
  partial,
  plan,
  reads,
  times,
  writes,
} from 'ekkon';
import { request, responds } from 'ekkon/requests';
import { changedSince, descriptorsOf } from '../domains/descriptors.ts';

/** Pieces of a browser game and of pages, each with its needs of the environment. */
const page = globalThis as typeof globalThis & { AudioContext: new () => Synth };

interface Synth {
  createOscillator(): { readonly frequency: { value: number }; start(): void };
}

class Radar {
  where(): Promise<number> {
    return new Promise((found) =>
      navigator.geolocation.getCurrentPosition(({ coords }) => found(coords.latitude)),
    );
  }
}

function beep(pitch: number): void {
  const oscillator = new page.AudioContext().createOscillator();
  oscillator.frequency.value = pitch;
  oscillator.start();
}

/** Calls once an element is seen. */
function whenSeen(element: object, run: () => void): void {
  const observer = new IntersectionObserver((entries) => {
    if (entries.some(({ isIntersecting }) => isIntersecting)) run();
  });
  observer.observe(element as Element);
}

function follow(hear: (isDark: boolean) => void): () => void {
  const query = matchMedia('(prefers-color-scheme: dark)');
  const listener = ({ matches }: { matches: boolean }) => hear(matches);
  query.addEventListener('change', listener);
  return () => query.removeEventListener('change', listener);
}

/** Each need, and a test of code that has it. */
const needs: Readonly<Record<string, (ledger: Ledger) => unknown>> = {
  'the position of the device': async (ledger) => {
    const geolocation = ledger.place(
      navigator,
      'geolocation',
      ledger.standIn<Geolocation>('geolocation'),
    );
    plan(
      call(geolocation.getCurrentPosition),
      callsBack([{ coords: { latitude: 5 } } as GeolocationPosition]),
    );
    same(await new Radar().where(), 5);
    check(once(call(geolocation.getCurrentPosition)));
  },
  'the clipboard': async (ledger) => {
    const clipboard = ledger.place(navigator, 'clipboard', ledger.standIn<Clipboard>('clipboard'));
    plan(call(clipboard.readText), fulfils('dome 7'));
    await navigator.clipboard.writeText(await navigator.clipboard.readText());
    check(once(call(clipboard.writeText, ['dome 7'])));
  },
  'an element is seen': (ledger) => {
    const Observer = ledger.place(
      globalThis,
      'IntersectionObserver',
      ledger.constructible<typeof IntersectionObserver>('IntersectionObserver'),
    );
    const [seen, tower] = [ledger.callable<() => void>('seen'), {} as Element];
    whenSeen(tower, seen);
    check(never(call(seen)), once(call(there(instances(Observer)[0]).observe, [tower])));
    const [hear, observer] = [
      there(ledger.entries(call(Observer))[0]).liveArgs[0],
      there(instances(Observer)[0]),
    ];
    hear([{ isIntersecting: true } as IntersectionObserverEntry], observer);
    check(once(call(seen)));
  },
  'a media query changes': (ledger) => {
    const [query, heard] = [
      ledger.standIn<MediaQueryList>('query'),
      ledger.callable<(isDark: boolean) => void>('heard'),
    ];
    const matching = ledger.place(
      globalThis,
      'matchMedia',
      ledger.callable<typeof matchMedia>('matchMedia'),
    );
    plan(call(matching, ['(prefers-color-scheme: dark)']), gives(query));
    const stop = follow(heard);
    const listener = there(ledger.entries(call(query.addEventListener))[0]).liveArgs[1] as (
      event: object,
    ) => void;
    listener({ matches: true });
    stop();
    check(once(call(heard, [true])), once(call(query.removeEventListener, ['change', listener])));
  },
  'a worker answers': (ledger) => {
    const Working = ledger.place(
      globalThis,
      'Worker',
      ledger.constructible<typeof Worker>('Worker'),
    );
    const heard = ledger.callable<(answer: number) => void>('heard');
    const worker = new Worker('path.js');
    worker.onmessage = ({ data }) => heard(data as number);
    worker.postMessage({ from: 1, to: 4 });
    const made = there(instances(Working)[0]);
    check(once(call(made.postMessage, [{ from: 1, to: 4 }])), once(writes(made, 'onmessage')));
    made.onmessage?.({ data: 3 } as MessageEvent);
    check(once(call(heard, [3])));
  },
  'a cache of responses': async (ledger) => {
    const cached = ledger.place(globalThis, 'caches', ledger.standIn<CacheStorage>('caches'));
    plan(call(cached.has), fulfils(true));
    same(await caches.has('maps'), true);
    check(once(call(cached.has, ['maps'])));
  },
  'a tone': (ledger) => {
    const oscillator = ledger.standIn<ReturnType<Synth['createOscillator']>>('oscillator');
    const Context = ledger.place(
      globalThis,
      'AudioContext',
      ledger.constructible<typeof page.AudioContext>('AudioContext'),
    );
    plan(
      call(Context),
      computes(() => ({ createOscillator: () => oscillator })),
    );
    beep(440);
    check(once(writes(oscillator.frequency, 'value', 440)), once(call(oscillator.start)));
  },
  'frames of an animation': (ledger) => {
    const frame = ledger.place(
      globalThis,
      'requestAnimationFrame',
      ledger.callable<typeof requestAnimationFrame>('frame'),
    );
    const drawn = ledger.callable<(at: number) => void>('drawn');
    const loop = (at: number) => {
      drawn(at);
      requestAnimationFrame(loop);
    };
    requestAnimationFrame(loop);
    for (const at of [16, 33]) there(ledger.entries(call(frame)).at(-1)).liveArgs[0](at);
    check(inTurn(call(drawn, [16]), call(drawn, [33])), times(3, call(frame)));
  },
  'requests by fetch': async (ledger) => {
    ledger.takeOver(globalThis, 'fetch');
    plan(request(fetch, 'GET', 'https://scores.example/best'), responds({ json: [7] }));
    same(((await (await fetch('https://scores.example/best')).json()) as number[])[0], 7);
    check(once(request(fetch, 'GET', 'https://scores.example/best')));
  },
  'a question to the user': (ledger) => {
    ledger.place(window, 'confirm', ledger.callable<typeof confirm>('confirm'));
    plan(call(window.confirm), gives(true));
    same(confirm('Start again?'), true);
    check(once(call(window.confirm, ['Start again?'])));
  },
  'what is missing is said at once, with the line to write': (ledger) => {
    let said = '';
    try {
      ledger.takeOver(globalThis as unknown as { shareTarget(): void }, 'shareTarget');
    } catch (error) {
      said = String(error);
    }
    same(said.includes('ledger.place(target, "shareTarget", ledger.standIn("shareTarget"))'), true);
  },
  'what is stored in the page': (ledger) => {
    const held = Object.getPrototypeOf(localStorage) as Storage;
    ledger.takeOver(held, 'setItem');
    localStorage.setItem('best', '7');
    check(once(call(held.setItem, ['best', '7'])));
  },
  'the title of the page': (ledger) => {
    ledger.observe(document, 'title');
    document.title = 'Level 2';
    check(once(writes(document, 'title', 'Level 2')), never(reads(document, 'title')));
  },
  'an element is drawn on': (ledger) => {
    const pen = ledger.standIn<CanvasRenderingContext2D>('pen');
    const canvas = document.createElement('canvas');
    ledger.place(
      canvas,
      'getContext',
      ledger.callable<(kind: '2d') => CanvasRenderingContext2D>('getContext'),
    );
    plan(call(canvas.getContext, ['2d']), gives(pen));
    const context = there(canvas.getContext('2d'));
    context.fillStyle = 'green';
    context.fillRect(0, 0, 5, 5);
    check(inTurn(writes(pen, 'fillStyle', 'green'), call(pen.fillRect, [0, 0, 5, 5])));
  },
  'events that are dispatched': (ledger) => {
    const heard = ledger.callable<(event: Event) => void>('heard');
    const target = new EventTarget();
    target.addEventListener('score', heard);
    target.dispatchEvent(new CustomEvent('score', { detail: 7 }));
    check(
      once(call(heard, [partial({ type: 'score', target })])),
      never(call(heard, [partial({ type: 'lost' })])),
    );
  },
};

function there<T>(value: T | null | undefined): T {
  if (value === null || value === undefined) throw new Error('it is missing');
  return value;
}

function same(found: unknown, expected: unknown): void {
  if (!Object.is(found, expected))
    throw new Error(`${String(found)} instead of ${String(expected)}`);
}

/** The objects of the environment that the needs touch. */
function touched(): readonly object[] {
  // Node makes these as they are first read.
  void [globalThis.Headers, globalThis.Request, globalThis.Response];
  const { navigator, document, localStorage, MediaQueryList } = globalThis as Partial<
    typeof globalThis
  >;
  return [globalThis, navigator, document, localStorage, MediaQueryList?.prototype].filter(
    (each) => each !== undefined,
  );
}

/** Runs all of them. Returns for each that it works, or its error; and whether everything that was touched is restored. */
export async function runNeeds(): Promise<Readonly<Record<string, string>>> {
  const results: Record<string, string> = {};
  for (const [need, run] of Object.entries(needs)) {
    const before = descriptorsOf(...touched());
    const ledger = openLedger({ rules: 'loose' });
    try {
      await run(ledger);
      ledger.close();
      const changed = changedSince(before);
      results[need] = changed.length === 0 ? 'works' : `changed: ${changed.join(', ')}`;
    } catch (error) {
      results[need] = String(error).split('\n')[0] ?? '';
    } finally {
      ledger.close();
    }
  }
  return results;
}
