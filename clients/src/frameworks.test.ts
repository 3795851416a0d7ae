import { call, check, gives, once, openLedger, plan } from 'ekkon';
import fastify from 'fastify';
import { createElement, isValidElement } from 'react';
import { renderToStaticMarkup } from 'react-dom/server';
import { from, isObservable, lastValueFrom } from 'rxjs';
import { expect, test } from 'vitest';
import { isReactive, isRef, reactive, ref, toRaw, unref, watch } from 'vue';

type Device = { angle: number; open(to: number): string; readonly view: { show(what: string): void } };
class Dome implements Device {
  angle = 0;
  open(to: number) {
    return String(to);
  }
  readonly view = { show() {} };
}

/** A double of each kind, with a member that was used and planned. */
function doubles() {
  const ledger = openLedger({ rules: 'loose' });
  const made = {
    'an interface': ledger.standIn<Device>('dome'),
    'a class': ledger.standIn('shaped', Dome),
    'a fake': ledger.standIn<Device>('faked', { angle: 4, open: (to) => `fake ${to}` }),
    'a callable': ledger.callable<Device & ((to: number) => string)>('called', { members: ['open'] }) as Device,
    'named members': ledger.standIn<Device>('closed', undefined, { members: ['open'] }),
  };
  for (const double of Object.values(made)) plan(call(double.open), gives('open'));
  return { ledger, made };
}

/** What a framework, a runner or the platform does with a value that it is given; it throws if that goes wrong. */
const uses: Readonly<Record<string, (double: Device) => unknown>> = {
  'awaited, it is itself': async (double) => expect((await double) === double).toBe(true),
  'in Promise.all, it is itself': async (double) => expect((await Promise.all([double]))[0] === double).toBe(true),
  'it is listed without end': (double) => expect(Object.keys(double).length).toBeLessThan(5),
  'spread, it gives what was used': (double) => expect(typeof { ...double }.open).toBe('function'),
  'as JSON it is a name, or nothing': (double) => expect(JSON.stringify({ double })).toMatch(/^\{("double":"\[.*\]")?\}$/),
  'as text it names itself': (double) => expect(`${double}`).toMatch(/^\[(stand-in|callable) \w+\]$/),
  'structuredClone refuses it as it does any function': (double) => expect(() => structuredClone({ double })).toThrow(/could not be cloned/),
  "a runner's snapshot names it": (double) => expect(double).toMatchSnapshot(),
  'a runner tells two apart': (double) => expect(double).not.toEqual(openLedger({ rules: 'loose' }).standIn<Device>('other')),
  'a runner finds it equal to itself': (double) => expect({ double }).toEqual({ double }),
  'it is not a matcher, element, observable or promise': (double) => {
    expect([isValidElement(double), isObservable(double), isRef(double), isReactive(double)]).toEqual([false, false, false, false]);
    expect([typeof (double as unknown as { then: unknown }).then, Symbol.iterator in double]).toEqual(['undefined', false]);
  },
  'reactive, it is recorded as before': (double) => {
    const state = reactive({ device: double });
    expect(state.device.open(4)).toBe('open');
    expect(toRaw(state.device)).toBe(double);
  },
  'in a ref, it is recorded as before': (double) => expect(unref(ref(double)).open(4)).toBe('open'),
  'watched deeply, it does not go on for ever': (double) => watch(reactive({ device: double }), () => {}, { deep: true })(),
  'as a prop it is handed on': (double) => {
    const Panel = ({ device }: { device: Device }) => createElement('p', null, device.open(4));
    expect(renderToStaticMarkup(createElement(Panel, { device: double }))).toBe('<p>open</p>');
  },
  'a server is decorated with it': async (double) => {
    const app = fastify();
    app.decorate('device', double);
    app.get('/', () => (app as unknown as { device: Device }).device.open(4));
    expect((await app.inject('/')).body).toBe('open');
    await app.close();
  },
  'as the value of an observable it comes through': async (double) => expect((await lastValueFrom(from([double]))) === double).toBe(true),
  'as a key of a map it is found': (double) => expect(new Map([[double, 1]]).get(double)).toBe(1),
  'called by call, apply and bind it is recorded': (double) => {
    double.open.call(double, 4);
    double.open.apply(double, [4]);
    expect(double.open.bind(double, 4)()).toBe('open');
  },
  'frozen and sealed, it keeps what it has': (double) => {
    Object.freeze(double);
    expect(double.open(4)).toBe('open');
  },
};

for (const kind of Object.keys(doubles().made)) {
  test(`what frameworks do with ${kind} is not a call, and does no harm`, async () => {
    for (const [use, run] of Object.entries(uses)) {
      const { ledger, made } = doubles();
      const double = made[kind as keyof typeof made];
      try {
        await run(double);
      } catch (error) {
        throw new Error(`${kind}: ${use}: ${(error as Error).message}`, { cause: error });
      }
      const labels = ledger
        .entries()
        .map(({ label, kind }) => `${label} ${kind}`)
        .filter((label) => !label.includes('.open'));
      expect([use, labels]).toEqual([use, []]);
      if (ledger.entries().length === 1) check(once(call(double.open, [4])));
    }
  });
}
