import { describe, expect, test } from 'vitest';
import { messageOf } from '../../tests/failure.ts';
import { conforms } from '../claim/conforms.ts';
import { never, once, times } from '../claim/count.ts';
import { instances } from '../double/constructible.ts';
import { call } from '../pattern/call.ts';
import { deferred } from '../plan/deferred.ts';
import { plan } from '../plan/plan.ts';
import { callsBack, fulfils, gives, passesThrough, type Reply, stalls, throws } from '../plan/reply.ts';
import { summary } from '../report/summary.ts';
import { check } from '../wait/check.ts';
import { reach } from '../wait/reach.ts';
import { stays } from '../wait/stays.ts';
import type { Ledger } from './ledger.ts';
import { openLedger } from './open-ledger.ts';
import { withLedger } from './with-ledger.ts';

class Camera {
  temperature = -20;
  readonly shutter = () => 'open';
  get busy(): boolean {
    throw new Error('an accessor was run');
  }
  async expose(seconds: number, filter = 'red'): Promise<string> {
    return `${filter} ${seconds}`;
  }
  cool(to: number): number {
    return to;
  }
  toJSON(): string {
    return 'camera';
  }
}

const message = (run: () => unknown) => messageOf(run).replace(/ *\(?[\w./-]+\.test\.ts:\d+\)?/g, ' @');

describe('a stand-in for a class', () => {
  test('is an instance of it; its methods are recorded and answer in kind; its accessors are not run', async () => {
    const ledger = openLedger();
    const camera = ledger.standIn('camera', Camera);
    expect(camera).toBeInstanceOf(Camera);
    expect([camera.cool(3), await camera.expose(30), camera.busy, 'cool' in camera, 'park' in camera]).toEqual([
      undefined,
      undefined,
      undefined,
      true,
      false,
    ]);
    expect([camera.cool.length, camera.constructor, `${camera}`]).toEqual([1, Camera, '[stand-in camera]']);
    check(once(call(camera.cool, [3])), once(call(camera.expose, [30])));
  });

  test('lets any member be read, and none be called that the class does not have, unless it is planned', () => {
    const ledger = openLedger();
    const camera = ledger.standIn('camera', Camera);
    const { shutter } = camera;
    expect(typeof shutter).toBe('function');
    expect(message(() => Reflect.get(camera, 'colo')(-20, { slow: [true] }, new Map()))).toBe(`\
#1 camera.colo(-20, { slow: [true] }, new Map([])) @ was called, and Camera has no such member
    Camera has: cool
    to declare it: colo(a: number, b: { slow: boolean[] }, c: Map<unknown, unknown>): void;
    fields and arrow functions cannot be seen on the class; plan them before they are called
`);
    plan(call(camera.shutter), gives('shut'));
    expect(camera.shutter()).toBe('shut');
    expect(message(() => ledger.close())).toContain('camera has no member colo');
  });
});

test('a partial fake runs and is recorded on top of the stand-in, and is not changed', () => {
  const ledger = openLedger();
  const tag = Symbol('tag');
  const fake = {
    position: 1200,
    [tag]: 'east',
    step(by: number): number {
      this.position += by;
      return this.position;
    },
    get far() {
      return this.position > 1000;
    },
  };
  type Focuser = { position: number; readonly far: boolean; step(by: number): number; halt(): void };
  const focuser = ledger.standIn<Focuser>('focuser', fake);
  focuser.halt();
  expect([focuser.step(-500), focuser.far, Reflect.get(focuser, tag), fake.position]).toEqual([700, false, 'east', 1200]);
  check(once(call(focuser.step, [-500])), once(call(focuser.halt)));
  expect(ledger.entries(call(focuser.step))[0]?.receiver).toBe(focuser);
  plan(call(focuser.step), gives(3), passesThrough());
  expect([focuser.step(1), focuser.step(1)]).toEqual([3, 701]);
});

describe('a class made by the ledger', () => {
  test('requires new, records it, gives stand-ins of its shape, in order, or what is planned', () => {
    const ledger = openLedger();
    const Cover = ledger.constructible('Cover', Camera);
    const prepared = new Camera();
    plan(once(call(Cover)), gives(prepared));
    expect(new Cover()).toBe(prepared);
    const second = new Cover();
    class Wide extends Cover {
      wide() {
        return this.cool(1);
      }
    }
    const third = new Wide();
    plan(call(third.cool), gives(9));
    expect([second instanceof Camera, third.wide(), third instanceof Wide]).toEqual([true, 9, true]);
    expect(instances(Cover)).toEqual([second, third]);
    expect(() => Reflect.apply(Cover as never, undefined, [])).toThrow('Cover is a class: it is constructed with new');
  });
});

describe('replies', () => {
  interface Guide {
    measure(done: (error: Error | undefined, seeing?: number) => void): void;
    track(found: () => void, lost: (why: string) => void): void;
    settle(): Promise<string>;
  }
  const guideOf = () => openLedger().standIn<Guide>('guide');

  test('call back success and failure, in either place, in turn', () => {
    const guide = guideOf();
    const heard: unknown[] = [];
    plan(call(guide.measure), callsBack([undefined, 1.5]), callsBack([new Error('no star')]));
    plan(call(guide.track), callsBack(['cloud'], { argument: 1 }));
    guide.measure((error, seeing) => heard.push(error?.message ?? seeing));
    guide.measure((error) => heard.push(error?.message));
    guide.track(
      () => heard.push('found'),
      (why) => heard.push(why),
    );
    expect(heard).toEqual([1.5, 'no star', 'cloud']);
    plan(call(guide.track), callsBack([], { argument: 2 }));
    expect(() =>
      guide.track(
        () => {},
        () => {},
      ),
    ).toThrow('guide.track: its plan calls back argument 2, which is missing, not a function');
  });

  test('are settled by the test, before or after the call, and the entry ends with them', async () => {
    const ledger = openLedger();
    const guide = ledger.standIn<Guide>('guide');
    const settled = deferred<string>();
    plan(call(guide.settle), settled);
    const both = Promise.all([guide.settle(), guide.settle()]);
    expect(ledger.entries().map(({ outcome }) => outcome.state)).toEqual(['pending', 'pending']);
    settled.fulfil('quiet');
    settled.reject(new Error('too late'));
    expect(await both).toEqual(['quiet', 'quiet']);
    const late = guide.settle();
    expect(ledger.entries()[2]?.outcome.state).toBe('pending');
    expect([await late, ledger.entries()[2]?.outcome.state]).toEqual(['quiet', 'fulfilled']);
    plan(call(guide.settle), stalls());
    void guide.settle();
    await Promise.resolve();
    expect(ledger.entries()[3]).toMatchObject({ outcome: { state: 'pending' }, answer: { plan: 'guide.settle', reply: 'stalls' } });
  });

  test('counted ones answer that many calls, in written order, and require them at close', () => {
    const ledger = openLedger();
    const read = ledger.callable<(where?: string) => number>('read');
    plan(call(read), gives(0));
    plan(once(call(read, ['north'])), gives(1));
    plan(times(2, call(read, ['north'])), gives(2));
    expect(['north', 'north', 'north', 'north', 'south'].map((where) => read(where))).toEqual([1, 2, 2, 0, 0]);
    ledger.close();
  });

  test('counted ones that were not used, or once too often, are findings charged to the plan', () => {
    const ledger = openLedger({ name: 'counted' });
    const read = ledger.callable<(where: string) => number>('read');
    const spare = ledger.callable<() => number>('spare');
    plan(once(call(read, ['north'])), gives(1));
    plan(once(call(spare)), gives(1));
    expect([read('north'), read('north')]).toEqual([1, 1]);
    expect(message(() => ledger.close())).toBe(`\
#2 read("north") @ is unexpected: 2 calls, expected once; 2 problems at the end of the test

 1  once read("north")
    plan at @
    2 matching calls, expected once:
    #1   read("north") @
    #2   read("north") @   ◂ unexpected

spare was never called

 2  once spare
    plan at @
    nothing of spare was called: was it handed to the code under test?
    on other doubles: read ×2

2 problems at the end of the test · ledger "counted"
codes: surplusCall, missingCall
`);
    ledger.close();
  });

  test('their summary says which ran out, and which can never answer', () => {
    const ledger = openLedger();
    const read = ledger.callable<(where: string) => number>('read');
    plan(call(read, ['north']), gives(1));
    plan(call(read), gives(4), gives(9));
    for (const where of ['a', 'b', 'c', 'd']) read(where);
    const camera = ledger.standIn('camera', Camera);
    plan(call(camera.shutter), gives('shut'));
    expect(summary(ledger)).toContain('read("north") gives 1   never used; a newer plan answers all its calls');
    expect(summary(ledger)).toContain('read gives 4, then gives 9   answered 4 calls; ran out, the last reply was repeated 2 times');
    expect(summary(camera)).toContain('camera.shutter gives "shut"   never used; Camera has no such member on its prototype');
  });
});

describe('a call that no plan fits', () => {
  test('throws to its caller where the rule says so, shows the plans and how each differs, and stays a finding', () => {
    const ledger = openLedger({ name: 'strict', rules: 'strict' });
    const camera = ledger.standIn<Camera>('camera');
    const log = ledger.standIn<{ write(line: string): void }>('log', undefined, { rules: 'loose' });
    plan(call(camera.cool, [-20]), gives(-20));
    log.write('night');
    expect(message(() => camera.cool(5))).toBe(`\
#2 camera.cool(5) @ matches no plan; there is camera.cool(-20) gives -20
    the plans for it, and how the call differs:
      camera.cool(-20) gives -20   [0] expected -20, received 5
`);
    expect(ledger.entries().at(-1)?.outcome.state).toBe('threw');
    expect(message(() => ledger.close())).toMatch(
      /^#2 camera\.cool\(5\) @ matches no plan; there is camera\.cool\(-20\) gives -20; 3 problems at the end of the test\n/,
    );
  });

  test('is a matter of single rules too, on a set', () => {
    const strict = openLedger({ rules: { base: 'strict', unplannedCall: 'allow' } });
    const done = strict.callable<() => void>('done');
    done();
    check(once(call(done)));
    strict.close();
    const noting = openLedger({ rules: { unplannedCall: 'note' } });
    noting.callable<() => void>('done')();
    expect(summary(noting)).toContain('notes\n  1 unplanned call to done: #1');
    const one = openLedger({ rules: { unplannedCall: 'fail' } }).callable<() => void>('done');
    expect(() => one()).toThrow('this member has no plan; write plan(call(done), gives(undefined))');
    expect(() => openLedger({ rules: 'strcit' as never })).toThrow(
      "there is no set of rules \"strcit\". Write 'loose', 'usual', 'careful' or 'strict'",
    );
    expect(() => openLedger({ rules: { unplaned: 'fail' } as never })).toThrow('there is no rule unplaned. These are: unplannedCall');
    expect(() => openLedger({ rules: { unplannedCall: 'no' } as never })).toThrow("rule unplannedCall must be 'allow', 'note' or 'fail', not \"no\"");
  });
});

describe('a ledger is held', () => {
  const planned = (ledger: ReturnType<typeof openLedger>) => plan(once(call(ledger.callable<() => void>('done'))), gives(undefined));

  test('by withLedger, which closes it, and shows the body’s own error first and whole', async () => {
    expect(await withLedger({ name: 'held' }, (ledger) => ledger.name)).toBe('held');
    await expect(withLedger((ledger) => void planned(ledger))).rejects.toThrow('done was never called');
    const own = new Error('the body failed');
    await expect(withLedger(() => Promise.reject(own))).rejects.toBe(own);
    const both = await withLedger((ledger) => {
      planned(ledger);
      throw own;
    }).catch((error: AggregateError) => error);
    expect(both).toMatchObject({ errors: [own, { verdict: { holds: false } }], cause: own });
    expect(String((both as Error).stack)).toMatch(/^Error: the body failed\n\nand then: done was never called/);
    await expect(withLedger(5 as never)).rejects.toThrow('takes the test’s body'.replace('’', "'"));
  });

  test('by withLedger, which tells what a body that ran out of time still waited for', async () => {
    const timedOut = new Error('the test timed out');
    const stuck = (beginWaiting: (ledger: Ledger) => readonly Promise<void>[]) =>
      withLedger(async (ledger) => {
        await Promise.race([...beginWaiting(ledger), Promise.reject(timedOut)]);
      }).catch((error: Error) => error);
    const opened = (ledger: Ledger) => once(call(ledger.standIn<{ open(): void }>('dome').open));
    const both = await stuck((ledger) => [reach(opened(ledger), { within: 60_000 })]);
    expect(both).toMatchObject({ errors: [timedOut, { verdict: { findings: [{ code: 'missingCall' }] } }] });
    expect(String(both)).toMatch(
      /Error: the test timed out\n\nand then: still waited for: dome\.open was never called[\s\S]*\n +the test still waited for it \(.*doubles\.test\.ts:\d+\) when it failed\n/,
    );
    let late: Promise<unknown> | undefined;
    await withLedger((ledger) => {
      late = reach(opened(ledger), { within: 60_000 }).catch((error: Error) => error.message);
    });
    expect(await late).toMatch(/^reach\(\): ledger "unnamed" was closed while once dome\.open was waited for/);
    expect(await stuck((ledger) => [stays(never(call(ledger.callable<() => void>('other'))), { for: 60_000 })])).toBe(timedOut);
  });

  test('by using, which does not throw on top of a failed check', () => {
    expect(() => {
      using ledger = openLedger();
      planned(ledger);
    }).toThrow('done was never called');
    expect(() => {
      using ledger = openLedger();
      planned(ledger);
      check(never(call(ledger.callable<() => void>('other'))), once(call(ledger.callable<() => void>('third'))));
    }).toThrow('third was never called');
  });
});

describe('a double conforms to what it stands for', () => {
  test('where it was used as that can be', async () => {
    const camera = openLedger().standIn<Camera>('camera');
    plan(call(camera.expose), fulfils('frame'));
    camera.cool(3);
    await camera.expose(30, 'blue');
    check(conforms(camera, Camera), conforms(camera, new Camera()));
  });

  test('and where it has drifted the claim says how', () => {
    type Old = { cool(to: number, how: string): void; rewind(): void; expose(seconds: number): string; busy(): boolean };
    const camera = openLedger({ name: 'drift' }).standIn<Old>('camera');
    camera.cool(3, 'slowly');
    camera.rewind();
    plan(call(camera.expose), throws(new Error('no')));
    plan(call(camera.busy), gives(true));
    const error = message(() => check(conforms(camera, Camera)));
    expect(error).toContain('camera.cool: the double was called with 2 arguments, the real one takes 1; and 3 more\n\n 1  conforms camera ‹Camera›');
    expect(error).toContain('camera.rewind: the double was called, the real one has no such member');
    expect(error).toContain('camera.expose: the double ends at once, the real one gives a promise');
    expect(error).toContain('camera.busy: the double has a plan, the real one is an accessor');
    expect(() => conforms({}, Camera)).toThrow('takes a stand-in first');
  });
});

describe('a double is held against the real one', () => {
  const view = Symbol('view');
  class Guide {
    readonly focus = () => {};
    readonly app = { view: { use(_name: string) {} }, name: 'guide' };
    [view](): void {}
  }
  interface Guided extends Omit<Guide, 'app'> {
    app: { view: { use(...names: string[]): void; close(): void } };
  }
  const drifts = (use: (guide: Guided) => unknown, real: object) => {
    const ledger = openLedger({ rules: 'loose' });
    const guide = ledger.standIn<Guided>('guide');
    use(guide);
    return messageOf(() => check(conforms(guide, real))).split('\n')[0];
  };

  test.each(
    Object.entries<[(guide: Guided) => unknown, object, RegExp]>({
      'a nested member': [(guide) => guide.app.view.use('a'), new Guide(), /^$/],
      'one that is called with more': [
        (guide) => guide.app.view.use('a', 'b'),
        new Guide(),
        /guide\.app\.view\.use: the double was called with 2 arguments, the real one takes 1/,
      ],
      'a nested member that is not there': [(guide) => guide.app.view.close(), new Guide(), /guide\.app\.view\.close: .*has no such member/],
      'a class field of an instance': [(guide) => guide.focus(), new Guide(), /^$/],
      'a class field that the class does not show': [(guide) => guide.focus(), Guide, /guide\.focus: .*has no such member/],
    }),
  )('%s', (_, [use, real, said]) => {
    expect(drifts(use, real)).toMatch(said);
  });

  test('a member behind a symbol, by the symbol and not by how it looks', () => {
    const other = Symbol('view');
    const ledger = openLedger({ rules: 'loose' });
    const guide = ledger.standIn<Record<symbol, () => void>>('guide', { [view]() {}, [other]() {} });
    guide[view]?.();
    check(conforms(guide, Guide), once(call(guide[view])), never(call(guide[other])));
    guide[other]?.();
    expect(() => check(conforms(guide, Guide))).toThrow(/has no such member/);
  });
});

describe('a reply that calls back', () => {
  const called = async (reply: Reply<unknown>, args: readonly unknown[], before: readonly unknown[], after: readonly unknown[]) => {
    const ledger = openLedger();
    const on = ledger.callable<(...args: unknown[]) => unknown>('on');
    plan(call(on), reply);
    const heard: unknown[] = [];
    const given = on(...args.map((each) => (each === 'hear' ? (...told: unknown[]) => heard.push(...told) : each)));
    expect(heard).toEqual(before);
    await ledger.untilQuiet();
    await new Promise((resolve) => setTimeout(resolve, 5));
    expect(heard).toEqual(after);
    return given;
  };

  test('calls the only function, in a turn of its own if it is later, and gives what it is told to', async () => {
    expect(await called(callsBack([1, 2]), ['a', 'hear', {}], [1, 2], [1, 2])).toBe(undefined);
    expect(await called(callsBack([1], { later: true, gives: 'now' }), ['hear'], [], [1])).toBe('now');
    expect(await called(callsBack([1], { argument: 1 }), [() => {}, 'hear'], [1], [1])).toBe(undefined);
  });

  test.each([
    [callsBack([]), ['a'], /its plan calls back the only function among the arguments, and there is none: the arguments are "a"/],
    [callsBack([]), [], /and there is none: there are no arguments/],
    [callsBack([]), ['hear', 'hear'], /there are 2; say which: callsBack\(\[…\], \{ argument: 0 \}\)/],
    [callsBack([], { argument: 0 }), [3], /its plan calls back argument 0, which is 3, not a function/],
  ] as const)('says what was there if it is none: %#', async (reply, args, said) => {
    await expect(called(reply, args, [], [])).rejects.toThrow(said);
  });
});
