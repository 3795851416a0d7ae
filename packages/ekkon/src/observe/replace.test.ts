import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { never, once, times } from '../claim/count.ts';
import { instances } from '../double/constructible.ts';
import { openLedger } from '../ledger/open-ledger.ts';
import { suchThat } from '../match/such-that.ts';
import { typeOf } from '../match/type-of.ts';
import { call } from '../pattern/call.ts';
import { threw } from '../pattern/ends.ts';
import { reads, writes } from '../pattern/properties.ts';
import { plan } from '../plan/plan.ts';
import { fulfils, gives, passesThrough, throws } from '../plan/reply.ts';
import { ClaimError } from '../report/claim-error.ts';
import { check } from '../wait/check.ts';

class Mount {
  position = 0;
  static list(): string[] {
    return ['north'];
  }
  slewTo(ra: number): number {
    this.position = ra;
    return this.settle();
  }
  private settle(): number {
    return this.position;
  }
  async park(): Promise<string> {
    return 'parked';
  }
  get moving(): boolean {
    return this.position > 100;
  }
  set moving(value: boolean) {
    this.position = value ? 101 : 0;
  }
  [Symbol.toPrimitive](): string {
    return 'mount';
  }
}
class SlowMount extends Mount {
  override slewTo(ra: number): number {
    return super.slewTo(ra) + 1;
  }
}

describe('a real member in place', () => {
  test('is recorded and runs with its own this when observed; inherited, private, static and symbol members too', async () => {
    using ledger = openLedger();
    const mount = new SlowMount();
    const settle = ledger.observeHidden(mount, 'settle');
    ledger.observe(mount, 'slewTo');
    ledger.observe(mount, Symbol.toPrimitive);
    ledger.observe(Mount, 'list');
    expect([mount.slewTo(5), `${mount}`, Mount.list()]).toEqual([6, 'mount', ['north']]);
    check(once(call(mount.slewTo, [5])), once(call(settle)), once(call(mount[Symbol.toPrimitive])), once(call(Mount.list, [])));
    expect(ledger.entries().map(({ parent, receiver }) => [parent, receiver])).toEqual([
      [undefined, mount],
      [1, mount],
      [undefined, mount],
      [undefined, Mount],
    ]);
    expect([mount.slewTo.name, mount.slewTo.length]).toEqual(['slewTo', 1]);
  });

  test('does not run when taken over; an asynchronous one fulfils; a plan may pass through', async () => {
    using ledger = openLedger();
    const mount = new Mount();
    ledger.takeOver(mount, 'slewTo');
    ledger.takeOver(mount, 'park');
    plan(call(mount.slewTo, [9]), passesThrough());
    expect([mount.slewTo(5), mount.position, mount.slewTo(9), mount.position]).toEqual([undefined, 0, 9, 9]);
    expect(await mount.park()).toBeUndefined();
    expect(ledger.entries().at(-1)?.outcome.state).toBe('fulfilled');
  });

  test('a property is recorded when it is read and written, data and accessors', () => {
    const ledger = openLedger();
    const mount = new Mount();
    ledger.observe(mount, 'position');
    ledger.observe(mount, 'moving');
    mount.position = 7;
    expect(mount.position).toBe(7);
    mount.moving = true;
    expect(mount.moving).toBe(true);
    check(
      once(writes(mount, 'position', 7)),
      once(writes(mount, 'moving', true)),
      once(reads(mount, 'moving')),
      times(2, writes(mount, 'position')),
      never(writes(mount, 'position', 8)),
    );
    ledger.close();
    expect([mount.position, Object.keys(mount), Object.hasOwn(mount, 'moving')]).toEqual([101, ['position'], false]);
  });

  test('a class taken over gives stand-ins of it; subclasses keep their methods; observed it is constructed', () => {
    const devices = { Mount };
    const ledger = openLedger();
    ledger.takeOver(devices, 'Mount');
    const mount = new devices.Mount();
    class Guided extends devices.Mount {
      guide(): string {
        return `guided ${this.slewTo(3)}`;
      }
    }
    const guided = new Guided();
    expect([mount instanceof Mount, mount.slewTo(5), guided.guide(), guided instanceof Guided]).toEqual([true, undefined, 'guided undefined', true]);
    check(times(2, call(devices.Mount, [])));
    expect(instances(devices.Mount)).toEqual([mount, guided]);
    expect(devices.Mount.list()).toEqual(['north']);
    ledger.close();
    expect(devices.Mount).toBe(Mount);

    using again = openLedger();
    again.observe(devices, 'Mount');
    expect([new devices.Mount().slewTo(4), Reflect.construct(devices.Mount, [], SlowMount).slewTo(4)]).toEqual([4, 5]);
    check(times(2, call(devices.Mount)));
    expect(again.entries().map(({ kind }) => kind)).toEqual(['construct', 'construct']);
  });
});

describe('closing', () => {
  const defined = (descriptor: PropertyDescriptor) => () => ({ target: Object.defineProperty({}, 'a', descriptor), key: 'a' });
  const shapes: Readonly<Record<string, () => { target: object; key: PropertyKey }>> = {
    'an own method': () => ({ target: { a() {} }, key: 'a' }),
    'an inherited one': () => ({ target: new Mount(), key: 'slewTo' }),
    'a static one': () => ({ target: Mount, key: 'list' }),
    'a member that does not show': defined({ value: () => 1, configurable: true }),
    'one that can only be assigned': defined({ value: () => 1, writable: true, enumerable: true }),
    'an accessor': defined({ get: () => 1, enumerable: true, configurable: true }),
    'a constant': defined({ value: 1, configurable: true }),
    'a global': () => ({ target: globalThis, key: 'fetch' }),
  };
  test.each(Object.entries(shapes))('puts back descriptor for descriptor, once or twice replaced: %s', (_, make) => {
    const { target, key } = make();
    const before = Object.getOwnPropertyDescriptors(target);
    const ledger = openLedger();
    ledger.observeHidden(target, key);
    expect(Object.getOwnPropertyDescriptor(target, key)).not.toEqual(Reflect.get(before, key));
    ledger.takeOverHidden(target, key);
    ledger.close();
    ledger.close();
    const after = Object.getOwnPropertyDescriptors(target);
    expect(Reflect.ownKeys(after)).toEqual(Reflect.ownKeys(before));
    expect(Reflect.get(after, key)).toEqual(Reflect.get(before, key));
    expect(Reflect.get(after, key)?.value).toBe(Reflect.get(before, key)?.value);
  });

  test('puts back after a failed check, and leaves alone and tells what somebody else has changed', () => {
    const siren = { sound: () => 'loud', light: () => 'on' };
    const { sound } = siren;
    const failed = openLedger();
    failed.takeOver(siren, 'sound');
    expect(() => check(once(call(siren.sound)))).toThrow(ClaimError);
    failed.close();
    expect(siren.sound).toBe(sound);

    const ledger = openLedger();
    ledger.takeOver(siren, 'sound');
    ledger.takeOver(siren, 'light');
    const theirs = () => 'theirs';
    siren.sound = theirs;
    expect(() => ledger.close()).toThrow('sound was changed by other code in the meantime, and is left as it is now');
    expect([siren.sound, siren.light()]).toEqual([theirs, 'on']);
  });

  test('frees a slot for the next ledger, and until then it is refused with the first one’s name', () => {
    const siren = { sound: () => 'loud' };
    const first = openLedger({ name: 'first night' });
    first.takeOver(siren, 'sound');
    const second = openLedger({ name: 'second night' });
    expect(() => second.observe(siren, 'sound')).toThrow('ledger "first night" has replaced this member and is not closed');
    first.close();
    second.takeOver(siren, 'sound');
    plan(call(siren.sound), gives('quiet'));
    expect(siren.sound()).toBe('quiet');
    second.close();
    expect(siren.sound()).toBe('loud');
  });
});

const frozen = Object.freeze({ sound() {} });
const refused: Readonly<Record<string, readonly [object, PropertyKey, RegExp]>> = {
  'no such member': [new Mount(), 'slwTo', /it has no such member; near it: slewTo/],
  'nothing like it': [{}, 'sound', /it has no such member, own or inherited\. To put something there: ledger\.place/],
  'a private field': [new Mount(), '#position', /private fields cannot be reached from outside/],
  'a frozen object': [frozen, 'sound', /not configurable, so it cannot be replaced/],
  'one that inherits and takes nothing new': [Object.preventExtensions(new Mount()), 'slewTo', /is not extensible and inherits the member/],
  'a stand-in': [openLedger().standIn<object>('dome'), 'open', /a stand-in's members are recorded already/],
  'what takes no accessor': [
    process.env,
    'PATH',
    /nothing can be put in its place \(.*accessor.*\)\. It is a text: set it for the test, and put it back afterwards\.$/,
  ],
  'no object': [5 as never, 'a', /the first is the object that has the member/],
};
test.each(Object.entries(refused))('what cannot be replaced is refused, and why: %s', (_, [target, key, message]) => {
  expect(() => openLedger().takeOverHidden(target, key)).toThrow(TypeError);
  expect(() => openLedger().takeOverHidden(target, key)).toThrow(message);
});

test('a function that other modules of the platform call is the real one to them', () => {
  using ledger = openLedger({ rules: 'loose' });
  ledger.takeOver(path, 'resolve');
  expect([fs.realpathSync('.'), path.resolve('.')]).toEqual([process.cwd(), undefined]);
  expect(ledger.entries().map(({ label, args }) => [label, args])).toEqual([['path.resolve', ['.']]]);
});

test('what is written to a stand-in is recorded, and read from then on', () => {
  const ledger = openLedger();
  const camera = ledger.standIn<{ onframe?: () => void; cool(): void }>('camera');
  const before = call(camera.cool);
  camera.cool();
  const listener = () => {};
  camera.onframe = listener;
  camera.cool = listener;
  expect([camera.onframe, camera.cool]).toEqual([listener, listener]);
  check(once(writes(camera, 'onframe', typeOf('function'))), once(writes(camera, 'cool')), once(before));
  expect(() => reads(camera, 'onframe')).toThrow('it was read before, and that was not recorded');
});

test('a member whose name is a symbol is written under the label it is called by', () => {
  const filter = Symbol('filter');
  const ledger = openLedger();
  const camera = ledger.standIn<{ [filter]: string; lens: string }>('camera');
  camera[filter] = 'red';
  check(once(writes(camera, filter)), once(writes(camera, filter, 'red')));
  expect(ledger.entries().map(({ label }) => label)).toEqual(['camera[filter]']);
  expect(() => check(once(writes(camera, 'lens')))).toThrow('called instead: camera[filter] ×1');
  expect(() => check(once(writes(camera, 'lens', 'red')))).toThrow('◂ not to .lens');
});

test('an object without a name is called by what it is, and by the name it is given', () => {
  const ledger = openLedger();
  const lamp = { dim() {}, flash() {} };
  ledger.observe(lamp, 'dim');
  ledger.observe(lamp, 'flash');
  lamp.flash();
  const other = { dim() {} };
  ledger.observe(other, 'dim', { name: 'deskLamp' });
  expect(() => check(once(call(lamp.dim)))).toThrow(/^object\.dim was never called; of object only object\.flash ×1\n/);
  expect(() => check(once(call(other.dim)))).toThrow(/^deskLamp\.dim was never called\n[\s\S]*nothing of deskLamp was called/);
});

test('a prototype is called after its own class, not after the one that it is derived from', () => {
  class Dome {
    open(): void {}
  }
  class Cover extends Dome {
    shut(): void {}
  }
  const ledger = openLedger({ rules: 'loose' });
  ledger.observe(Cover.prototype, 'shut');
  ledger.observe(Dome.prototype, 'open');
  ledger.observe(Date.prototype, 'getDay');
  ledger.observe(EventTarget.prototype, 'dispatchEvent');
  const cover = new Cover();
  cover.shut();
  cover.open();
  new Date(0).getDay();
  new EventTarget().dispatchEvent(new Event('dusk'));
  expect(ledger.entries().map(({ label }) => label)).toEqual(['Cover.shut', 'Dome.open', 'Date.getDay', 'EventTarget.dispatchEvent']);
  ledger.close();
});

test('closing puts everything back before it judges, whatever judging or putting back throws', () => {
  const ledger = openLedger();
  const lamp = { dim(_level: number) {} };
  const real = lamp.dim;
  const locked = { dim() {} };
  ledger.observe(locked, 'dim');
  ledger.takeOver(lamp, 'dim');
  lamp.dim(1);
  let there: unknown;
  const lost = suchThat(() => {
    there = lamp.dim;
    throw new Error('lost');
  });
  ledger.atClose(never(call(lamp.dim, [lost])));
  Object.freeze(locked);
  expect(() => ledger.close()).toThrow(
    /cannot tell for #1 object~2\.dim .*: \[0\] it threw Error\("lost"\)[\s\S]*object\.dim was changed by other code in the meantime/,
  );
  expect([there, lamp.dim]).toEqual([real, real]);
});

test('a plan answers the reads of a property, and those it does not fit are real', () => {
  const ledger = openLedger();
  const gauge = { temperature: 3 };
  ledger.observe(gauge, 'temperature');
  plan(once(reads(gauge, 'temperature')), gives(5));
  expect(gauge.temperature).toBe(5);
  plan(reads(gauge, 'temperature'), throws(new Error('frozen')));
  expect(() => gauge.temperature).toThrow('frozen');
  plan(reads(gauge, 'temperature'), fulfils(5) as never);
  expect(() => gauge.temperature).toThrow(/planned to reply with fulfils 5 to a read, which can give, compute or throw/);
  check(times(3, reads(gauge, 'temperature')), times(2, threw(reads(gauge, 'temperature'))));
});
