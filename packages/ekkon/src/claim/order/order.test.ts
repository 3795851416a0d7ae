import { describe, expect, test } from 'vitest';
import { failure, holds, messageOf } from '../../../tests/failure.ts';
import { openLedger } from '../../ledger/open-ledger.ts';
import { call } from '../../pattern/call.ts';
import { fulfilled, returned, settled, threw, unfinished } from '../../pattern/ends.ts';
import { deferred } from '../../plan/deferred.ts';
import { plan } from '../../plan/plan.ts';
import { throws } from '../../plan/reply.ts';
import { check } from '../../wait/check.ts';
import { never, once } from '../count.ts';
import { during } from '../during.ts';
import { inFlight } from '../in-flight.ts';
import { nothingElse } from '../nothing-else.ts';
import { leadsTo, onlyAfter } from '../precedence.ts';
import { either, inAnyOrder, inTurn, loop, optional, unbroken } from './steps.ts';

interface Devices {
  dome: { open(): void; close(): void };
  mount: { slewTo(ra: number): Promise<void>; track(): void };
  camera: { expose(seconds: number): Promise<void> };
}

function night() {
  const ledger = openLedger({ name: 'order' });
  const { dome, mount, camera } = ledger.standIns<Devices>();
  return { ledger, dome, mount, camera };
}

describe('a sequence', () => {
  test('ends are events of their own, in any order of their beginnings', async () => {
    const { dome, mount, camera } = night();
    const [slewed, exposed] = [deferred<void>(), deferred<void>()];
    plan(call(mount.slewTo), slewed);
    plan(call(camera.expose), exposed);
    plan(call(dome.close), throws(new Error('iced')));
    const both = [mount.slewTo(1), camera.expose(2)];
    exposed.fulfil();
    slewed.reject(new Error('wind'));
    await Promise.allSettled(both);
    expect(() => dome.close()).toThrow();
    check(
      inTurn(call(mount.slewTo), call(camera.expose), fulfilled(call(camera.expose)), settled(call(mount.slewTo)), threw(call(dome.close))),
      once(threw(call(dome.close), new Error('iced'))),
      never(fulfilled(call(mount.slewTo))),
      never(unfinished(call(camera.expose))),
      never(returned(call(dome.close))),
    );
    expect(holds(inTurn(fulfilled(call(camera.expose)), call(camera.expose)))).toBe(false);
  });

  test('nothing else may begin on the doubles of unbroken steps, whichever member, elsewhere it may', () => {
    const { dome, mount } = night();
    void mount.slewTo(1);
    dome.open();
    mount.track();
    check(inTurn(unbroken(call(mount.slewTo), call(mount.track))));
    void mount.slewTo(2);
    void mount.slewTo(3);
    mount.track();
    expect(holds(inTurn(call(dome.open), unbroken(call(mount.slewTo, [2]), call(mount.track))))).toBe(false);
  });
});

describe('bad input gets one clear error', () => {
  const { dome, mount } = night();
  const { dome: other } = night();
  const open = call(dome.open);
  const cases: Readonly<Record<string, readonly [() => unknown, RegExp]>> = {
    'no step': [() => inTurn(), /inTurn\(\) has no step/],
    'a count as a step': [() => inTurn(once(open) as never), /takes patterns and steps, and was given/],
    'no moment': [() => inTurn(unfinished(open)), /unfinished dome\.open is not a moment and has no place in an order/],
    'steps on two ledgers': [() => inTurn(open, call(other.open)), /steps of two ledgers, both named "order"/],
    'half a range': [() => loop('2..' as never, open), /this is not a valid range/],
    'an end of a member': [() => fulfilled(mount.slewTo as never), /takes a pattern of calls, and was given \[member mount\.slewTo\]/],
    'no pattern': [() => leadsTo(open, 5 as never), /leadsTo\(\) takes a pattern, and was given 5/],
    'patterns of two ledgers': [() => onlyAfter(open, call(other.open)), /patterns of two ledgers/],
    'a stretch without ends': [() => during({} as never, never(open)), /was given neither end of a stretch/],
    'a stretch without a claim': [() => during({ from: open }, open as never), /takes a claim that can hold in a stretch/],
    'nothing else in a stretch': [() => during({ from: open }, nothingElse(dome)), /takes a claim that can hold in a stretch/],
    'a stretch of another ledger': [
      () => during({ from: call(other.open) }, never(open)),
      /a claim and a stretch of two ledgers, both named "order"/,
    ],
    'nothing else of what': [() => nothingElse({}), /takes doubles or a ledger, and was given \{\}/],
    'in flight of nothing': [() => inFlight(1, 5 as never), /inFlight\(\) takes a pattern of calls, and was given 5/],
    'a bare step': [() => check(either(open) as never), /which is not a claim/],
  };
  test.each(Object.entries(cases))('for %s', (_, [run, expected]) => {
    expect(run).toThrow(TypeError);
    expect(run).toThrow(expected);
  });
});

describe('the report', () => {
  const message = (run: () => unknown) => messageOf(run).replace(/,? *\(?[\w./-]+\.test\.ts:\d+\)?/g, ' @');

  test('names what came too early, shows the lanes, and what had to come first', async () => {
    const { dome, mount, camera } = night();
    const slewed = deferred<void>();
    plan(call(mount.slewTo), slewed);
    dome.open();
    const slewing = mount.slewTo(83.6);
    void camera.expose(30);
    slewed.fulfil();
    await slewing;
    expect(message(() => check(inTurn(call(dome.open), fulfilled(call(mount.slewTo)), call(camera.expose))))).toBe(`\
#3 camera.expose @ came too early: expected after #2 mount.slewTo was fulfilled

 1  in turn dome.open › fulfilled mount.slewTo › camera.expose
           tick  dome      mount           camera
    #1        1  ■ open()
    #2        3            ┬ slewTo(83.6)
    #3        4            │               ■ expose(30)   ◂ too early @
    #2        6            ┴ fulfilled                    ◂ had to come first

the claim does not hold · ledger "order"
code: outOfOrder
`);
  });

  const cases: Readonly<Record<string, readonly [(parts: ReturnType<typeof night>) => void, RegExp]>> = {
    'a step that never came': [({ dome }) => check(inTurn(call(dome.open), call(dome.close))), /dome\.close is missing after #1 dome\.open @/],
    'a call too many': [
      ({ dome, camera }) => [camera.expose(1), camera.expose(2), check(inTurn(call(dome.open), call(camera.expose)))],
      /#\d camera\.expose\(\d\) @ is unexpected/,
    ],
    'a sequence that repeats, and what to write': [
      ({ dome, mount }) => [mount.track(), dome.open(), mount.track(), check(inTurn(call(dome.open), call(mount.track)))],
      /to allow that, write inTurn\(loop\('1\.\.\*', inTurn\(…\)\)\)/,
    ],
    'a sequence of which each step comes after an earlier one': [
      ({ dome, mount }) => [mount.track(), dome.open(), check(inTurn(call(dome.open), call(mount.track)))],
      /write onlyAfter\(…\) \(mount\.track only after dome\.open\)/,
    ],
    'no weaker claim if a step never came, because it would say nothing of that step': [
      ({ dome, mount }) => [mount.track(), dome.open(), check(inTurn(call(dome.open), call(mount.track), loop('0..1', call(dome.close))))],
      /^(?![\s\S]*onlyAfter)/,
    ],
    'a call too late': [({ dome, mount }) => [mount.track(), check(inTurn(call(mount.track), call(dome.open)))], /came too (early|late)/],
    'no beginning before it': [
      ({ camera, dome }) => [camera.expose(1), check(onlyAfter(call(camera.expose), call(dome.close)))],
      /#2 camera\.expose @ came, and dome\.close never did/,
    ],
    'nothing after it': [({ dome }) => check(leadsTo(call(dome.open), call(dome.close))), /dome\.close is missing after #1 dome\.open @/],
    'a call that nearly followed': [
      ({ dome, camera }) => [camera.expose(31), check(leadsTo(call(dome.open), call(camera.expose, [30])))],
      /^#2 camera\.expose @: \[0\] expected 30, received 31\n/,
    ],
    'a call that nearly came before': [
      ({ mount, camera }) => [camera.expose(31), mount.track(), check(onlyAfter(call(mount.track), call(camera.expose, [30])))],
      /^#2 camera\.expose @: \[0\] expected 30, received 31\n/,
    ],
    'too many at one time': [
      ({ mount }) => [plan(call(mount.slewTo), deferred<void>()), mount.slewTo(1), mount.slewTo(2), check(inFlight('0..1', call(mount.slewTo)))],
      /#3 mount\.slewTo @ began while #2 mount\.slewTo was under way: 2 at a time, expected 0\.\.1/,
    ],
    'an entry no claim speaks of': [
      ({ ledger, dome, mount }) => [mount.track(), mount.track(), check(nothingElse(ledger), once(call(dome.open)))],
      /#2 mount\.track @ is covered by no claim, and neither is 1 more/,
    ],
    'the stretch it failed in': [
      ({ dome, mount }) => [mount.track(), check(during({ from: call(dome.open) }, never(call(mount.track))))],
      /in the stretch from #1 dome\.open @, tick 1, to the end/,
    ],
  };
  test.each(Object.entries(cases))('names %s', (_, [run, expected]) => {
    const parts = night();
    parts.dome.open();
    expect(message(() => run(parts))).toMatch(expected);
  });

  test('is about the place of the call that nearly followed, or else of the one that nothing followed', () => {
    const { ledger, dome, camera } = night();
    dome.open();
    void camera.expose(31);
    const places = [call(camera.expose, [30]), call(dome.close)].map((needed) => failure(leadsTo(call(dome.open), needed)).verdict.findings[0]?.at);
    expect(places).toEqual([2, 1].map((id) => ledger.entries()[id - 1]?.site));
  });

  test('a claim that holds for no reason is noted, or fails where the rule says so', () => {
    const ledger = openLedger({ rules: { vacuousClaim: 'fail' } });
    const { dome } = ledger.standIns<Devices>();
    expect(message(() => check(leadsTo(call(dome.open), call(dome.close))))).toMatch(
      /dome\.open never occurred: the claim holds only because of that/,
    );
    dome.close();
    const { camera } = ledger.standIns<Devices>();
    void camera.expose(31);
    expect(message(() => check(leadsTo(call(camera.expose, [30]), call(dome.close))))).toMatch(
      /^#2 camera\.expose @: \[0\] expected 30, received 31; the claim holds only because camera\.expose\(30\) never occurred\n/,
    );
    expect(message(() => check(during({ from: call(dome.open) }, once(call(dome.close)))))).toMatch(
      /dome\.open never occurred: the claim holds only because of that/,
    );
    // A call of which only the end is meant was heard of.
    expect(message(() => check(inTurn(optional(call(dome.open)), optional(fulfilled(call(camera.expose))))))).toBe('');
    expect(message(() => check(inTurn(optional(call(dome.open)))))).toMatch(/^dome\.open never occurred/);
  });

  test('accounts for what claims want, what counted plans answered, and what the test looked at', () => {
    const { ledger, dome, mount, camera } = night();
    plan(once(call(dome.open)), throws(new Error('iced')));
    expect(() => dome.open()).toThrow();
    mount.track();
    void camera.expose(1);
    ledger.entries(call(mount.track));
    expect(holds(nothingElse(ledger))).toBe(false);
    expect(holds(nothingElse(dome, mount))).toBe(true);
    expect(holds(never(call(camera.expose, [2])), nothingElse(camera))).toBe(false);
    check(inTurn(call(camera.expose)), nothingElse(ledger));
  });

  test('tells symbols, texts and numbers of the same look apart, in many steps too', () => {
    const ledger = openLedger({ callSites: 0 });
    const store = ledger.callable<(value: unknown) => void>('store');
    const [one, other] = [Symbol('star'), Symbol('star')];
    const values = [1, '1', 1n, one, other, null, 'null', undefined, Number.NaN];
    for (const value of values) store(value);
    check(inTurn(...values.map((value) => call(store, [value]))));
    expect(holds(inTurn(...values.toReversed().map((value) => call(store, [value]))))).toBe(false);
    const many = Array.from({ length: 800 }, (_, at) => call(store, [`frame-${at}`]));
    for (let at = 0; at < 800; at++) store(`frame-${at}`);
    check(inTurn(...many));
    expect(holds(inTurn(...many.toReversed()))).toBe(false);
    check(inTurn(inAnyOrder(...many.toReversed().slice(0, 12))));
  });

  test('stays bounded in time and in length on long records', () => {
    const ledger = openLedger({ callSites: 0 });
    const { dome, mount } = ledger.standIns<Devices>();
    for (let at = 0; at < 20_000; at++) {
      mount.track();
      if (at === 12_345) dome.open();
    }
    const said = message(() => check(inTurn(loop('1..*', call(mount.track)), call(dome.open))));
    expect(said.split('\n').length).toBeLessThan(60);
  });
});
