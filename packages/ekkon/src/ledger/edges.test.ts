import childProcess from 'node:child_process';
import { EventEmitter } from 'node:events';
import timers from 'node:timers';
import { promisify } from 'node:util';
import { describe, expect, test } from 'vitest';
import { never, once } from '../claim/count.ts';
import { nothingElse } from '../claim/nothing-else.ts';
import { call } from '../pattern/call.ts';
import { reads, writes } from '../pattern/properties.ts';
import { plan } from '../plan/plan.ts';
import { callsBack, computes, fulfils, gives, rejects } from '../plan/reply.ts';
import { summary } from '../report/summary.ts';
import { check } from '../wait/check.ts';
import { openLedger } from './open-ledger.ts';

const loose = () => openLedger({ rules: 'loose' });

describe('a class that is replaced', () => {
  class Dome {}

  test.each(['observe', 'takeOver'] as const)('called without new behaves as the class does: %s', (way) => {
    const ledger = loose();
    const host = { Dome, Legacy: Object.assign(function Legacy() {}, {}) };
    ledger[way](host, 'Dome');
    expect(host.Dome as unknown as () => void).toThrow("Class constructor Dome cannot be invoked without 'new'");
    expect(ledger.entries()).toHaveLength(0);
    Object.assign(host.Legacy.prototype, { open() {}, close() {} });
    ledger[way](host, 'Legacy');
    expect((host.Legacy as unknown as () => unknown)()).toBeUndefined();
    expect(ledger.entries()).toHaveLength(1);
    ledger.close();
  });

  test('still hides its state from claims', () => {
    class Secret {
      #code = 1;
      constructor(code: number) {
        this.#code = code;
      }
      read() {
        return this.#code;
      }
    }
    const ledger = loose();
    const host = { Secret };
    ledger.observe(host, 'Secret');
    const send = ledger.callable<(secret: Secret) => void>('send');
    send(new host.Secret(1));
    expect(() => check(once(call(send, [new host.Secret(2)])))).toThrow(/Secret hides its state/);
  });
});

test('data observed on a prototype keeps the meaning of inheritance', () => {
  const ledger = loose();
  const base = { angle: 1 };
  const [one, other] = [Object.create(base), Object.create(base)];
  ledger.observe(base, 'angle');
  one.angle = 5;
  expect([one.angle, other.angle, base.angle, Object.hasOwn(one, 'angle')]).toEqual([5, 1, 1, true]);
  check(once(writes(base, 'angle', 5)));
});

test('a method that calls itself goes a fifth as deep at least, and past that throws as it does without', () => {
  const tree = { depth: (left: number): number => (left === 0 ? 0 : tree.depth(left - 1) + 1) };
  const deepest = () => {
    let [fine, tooDeep] = [10, 40_000];
    while (tooDeep - fine > 10) {
      const middle = (fine + tooDeep) >> 1;
      try {
        tree.depth(middle);
        fine = middle;
      } catch (error) {
        expect(error).toBeInstanceOf(RangeError);
        tooDeep = middle;
      }
    }
    return fine;
  };
  const plain = deepest();
  const ledger = openLedger({ rules: 'loose', callSites: 0 });
  ledger.observe(tree, 'depth');
  expect(deepest() * 5).toBeGreaterThan(plain);
  expect(ledger.entries().every(({ outcome }) => outcome.state !== 'running')).toBe(true);
});

describe("the platform's own functions", () => {
  const used: readonly (readonly [object, PropertyKey])[] = [
    [Array.prototype, 'push'],
    [Array.prototype, Symbol.iterator],
    [Object, 'keys'],
    [Promise.prototype, 'then'],
    [Map.prototype, 'get'],
    [Reflect, 'apply'],
    [Function.prototype, 'call'],
    [Math, 'max'],
    [globalThis, 'Map'],
    [globalThis, 'Error'],
  ];
  test('are refused in one line if Ekkon works with them', () => {
    for (const [target, key] of used)
      expect(() => loose().observe(target, key as never)).toThrow(/^observe\([\w.]+, .+\): Ekkon uses [\w.]+ itself, so it cannot be replaced\..*$/);
  });
});

describe('util.promisify of a function with a way of its own', () => {
  test('calls the double, which answers by its plan and is recorded', async () => {
    const replies: readonly [unknown, unknown][] = [
      [callsBack([null, 'dawn', 'dim']), { stdout: 'dawn', stderr: 'dim' }],
      [fulfils({ stdout: 'noon' }), { stdout: 'noon' }],
      [computes((_: string, done: (error: null, out: string) => void) => done(null, 'late')), { stdout: 'late', stderr: undefined }],
      [rejects('clouds'), 'clouds'],
      [callsBack([new Error('rain')]), new Error('rain')],
    ];
    for (const [reply, expected] of replies) {
      const ledger = loose();
      ledger.takeOver(childProcess, 'exec');
      plan(call(childProcess.exec, ['echo dusk']), reply as never);
      const result = await promisify(childProcess.exec)('echo dusk').catch((reason: unknown) => reason);
      check(once(call(childProcess.exec)));
      ledger.close();
      expect(result).toEqual(expected);
    }
  });

  test('runs the real one if that is observed, and puts it back', async () => {
    const ledger = loose();
    ledger.observe(childProcess, 'exec');
    expect(await promisify(childProcess.exec)('echo dusk')).toEqual({ stdout: 'dusk\n', stderr: '' });
    check(once(call(childProcess.exec, ['echo dusk'])));
    ledger.close();
    expect(await promisify(childProcess.exec)('echo dawn')).toMatchObject({ stdout: 'dawn\n' });
    expect(ledger.entries()).toHaveLength(1);
  });

  test('leaves time to the plan: a timer taken over never ends by itself', async () => {
    const ledger = loose();
    ledger.takeOver(timers, 'setTimeout');
    plan(call(timers.setTimeout), callsBack(['woken']) as never);
    expect(await promisify(timers.setTimeout)(50)).toBe('woken');
    check(once(call(timers.setTimeout, [50 as never])));
  });
});

test('everything is put back, each on its own, whatever throws', () => {
  const ledger = openLedger({ rules: 'loose', name: 'night' });
  let isLocked = false;
  const locked = new Proxy(
    { open() {} },
    {
      defineProperty: (target, key, descriptor) => {
        if (isLocked) throw new Error('locked');
        return Reflect.defineProperty(target, key, descriptor);
      },
    },
  );
  const [first, last] = [{ shut() {} }, { shut() {} }];
  const reals = [first.shut, last.shut];
  ledger.takeOver(first, 'shut');
  ledger.takeOver(locked, 'open', { name: 'lock' });
  ledger.takeOver(last, 'shut');
  isLocked = true;
  expect(() => ledger.close()).toThrow('lock.open could not be put back: new Error("locked") was thrown');
  expect([first.shut, last.shut]).toEqual(reals);
});

describe('a partial fake', () => {
  test('has classes that can be constructed, functions with their properties, and data whose writes are recorded', () => {
    class Frame {
      size = 2;
    }
    const shoot = Object.assign((seconds: number) => seconds * 2, { least: 1 });
    type Camera = { Frame: typeof Frame; shoot: typeof shoot; gain: number };
    const ledger = loose();
    const camera = ledger.standIn<Camera>('camera', { Frame, shoot, gain: 1 });
    const frame = new camera.Frame();
    expect([frame instanceof Frame, frame.size, camera.shoot.least, camera.shoot(4)]).toEqual([true, 2, 1, 8]);
    camera.gain = 5;
    expect(camera.gain).toBe(5);
    check(once(call(camera.Frame, [])), once(call(camera.shoot, [4])), once(writes(camera, 'gain', 5)));
  });
});

describe('what a stand-in of a class declares', () => {
  class Camera {
    gain = 3;
    onframe: (() => void) | undefined;
    list = [1, 2];
    shoot = (seconds: number) => seconds;
    #hidden = 4;
    open() {
      return this.#hidden;
    }
  }
  class Cooled extends Camera {
    degrees = -20;
  }
  test('as data reads as undefined until its reads are planned', () => {
    const ledger = loose();
    const camera = ledger.standIn('camera', Cooled);
    expect([camera.onframe, camera.list, camera.degrees, typeof camera.shoot, typeof camera.open]).toEqual([
      undefined,
      undefined,
      undefined,
      'function',
      'function',
    ]);
    plan(reads(camera, 'gain'), gives(5), gives(6));
    expect([camera.gain, camera.gain]).toEqual([5, 6]);
    camera.gain = 9;
    check(once(writes(camera, 'gain', 9)));
    expect(() => check(never(reads(camera, 'gain')))).toThrow(/2 reads/);
    expect(() => reads(camera, 'degrees')).toThrow('it was read before, and that was not recorded');
  });
});

test('an emitter that is an event target too is followed as an emitter', () => {
  class Both extends EventEmitter {
    addEventListener() {}
    removeEventListener() {}
  }
  const ledger = loose();
  const source = new Both();
  const stream = ledger.follow<number>(source, 'rain', { event: 'drop' });
  source.emit('drop', 4);
  expect(stream.items).toEqual([4]);
});

test('a proxy that makes its members is observed by key if it lets anything stand there', () => {
  const ledger = loose();
  const made = new Proxy({} as Record<string, (to: number) => number>, {
    get: (target, key) => Reflect.get(target, key) ?? ((to: number) => to + 1),
  });
  ledger.observe(made, 'turn', { name: 'dome' });
  expect(made['turn']?.(4)).toBe(5);
  check(once(call(made['turn'], [4])));
  ledger.close();
  expect(Object.keys(made)).toEqual([]);
  const deaf = new Proxy({}, { get: () => () => 1 });
  expect(() => loose().observe(deaf, 'turn' as never)).toThrow('the object is a proxy that does not return what is written to it');
});

test('stand-ins by destructuring cannot be spread', () => {
  const all = loose().standIns<{ dome: { open(): void } }>();
  expect(() => ({ ...all })).toThrow(/Destructure it: const \{ dome, mount \} = ledger\.standIns<Devices>\(\)/);
});

test('a callable has the members that are named, and what every function has says so', () => {
  type Client = { (path: string): number; get(path: string): number; readonly view: { use(name: string): void } };
  const ledger = loose();
  const client = ledger.callable<Client>('client', { members: ['get', 'view'] });
  plan(call(client.get, ['/frames']), gives(4));
  client('/');
  client.call(undefined, '/a');
  client.bind(null)('/b');
  client.view.use('x');
  expect([client.get('/frames'), client.name]).toEqual([4, 'client']);
  expect(ledger.entries().map(({ label }) => label)).toEqual(['client', 'client', 'client', 'client.view.use', 'client.get']);
  expect(() => call(client.bind)).toThrow('call() was given bind, which every function has for itself');
});

test('real objects can be named as a whole, and have a name though their class has none', () => {
  const ledger = loose();
  const plain = { get() {} };
  const named = { get() {} };
  ledger.takeOver(plain, 'get');
  ledger.takeOver(named, 'get', { name: 'quayClient' });
  ledger.standIn<{ get(): void }>('quayClient').get();
  plain.get();
  named.get();
  expect(ledger.entries().map(({ label }) => label)).toEqual(['quayClient~2.get', 'object.get', 'quayClient.get']);
  expect(() => check(nothingElse(plain))).toThrow(/nothing else on object/);
  expect(summary(named)).toMatch(/^quayClient in ledger/);
  const again = ['done', 'done'].map((name) => ledger.callable<() => void>(name));
  expect(again.map((done) => once(call(done)).notation)).toEqual(['once done', 'once done~2']);
});

test("a double's rules stay with it when more of it is replaced, and are not those of others", () => {
  const ledger = loose();
  const [one, other] = [{ open() {}, shut() {} }, { open() {} }];
  ledger.takeOver(one, 'open', { rules: { unplannedCall: 'fail' } });
  ledger.takeOver(one, 'shut');
  ledger.takeOver(other, 'open');
  other.open();
  expect(one.open).toThrow(/object\.open\(\) .*has no plan/);
  expect(one.shut).toThrow(/object\.shut\(\) .*has no plan/);
});
