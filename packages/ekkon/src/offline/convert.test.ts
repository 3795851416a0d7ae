import fc from 'fast-check';
import { expect, test } from 'vitest';
import { forAll } from '../../tests/for-all.ts';
import { openLedger } from '../index.ts';
import type { Entry } from '../record/entry.ts';
import { converters } from './convert.ts';

type TraceEvent = { readonly ph: string; readonly tid: number; readonly ts: number; readonly dur: number; readonly args: { readonly id: number } };

const ledger = openLedger({ rules: 'loose', callSites: 0 });
ledger.callable('sample')();
const [sample] = ledger.entries() as readonly [Entry];

const steps = fc.array(fc.record({ double: fc.constantFrom('dome', 'mount'), ends: fc.boolean(), later: fc.nat(2) }), { maxLength: 40 });

test('trace events keep the order of calls, and on one thread they are inside of each other or apart', () => {
  forAll(100, steps, (all) => {
    let now = 1_000;
    const converter = converters.trace('night');
    let tick = 0;
    const open: { id: number; double: string; began: number; at: number }[] = [];
    const made = new Map<number, object>();
    for (const { double, ends, later } of all) {
      now += later;
      const ending = ends ? open.splice(later % Math.max(1, open.length), 1)[0] : undefined;
      tick++;
      if (ending === undefined) open.push({ id: made.size + 1, double, began: tick, at: now });
      const { id, double: of, began, at } = ending ?? (open.at(-1) as (typeof open)[number]);
      const closed = ending === undefined ? undefined : { tick, now };
      made.set(id, { ...sample, id, label: of, double: of, began, ended: closed?.tick, at: { began: at, ended: closed?.now } });
    }
    const parts = [...made.values()].map((entry) => converter.entry(entry as typeof sample));
    const { traceEvents } = JSON.parse(converter.head + parts.join('') + converter.foot()) as { traceEvents: TraceEvent[] };
    const events = traceEvents.filter(({ ph }) => ph === 'X').toSorted((one, other) => one.ts - other.ts);
    expect(events.map(({ args }) => args.id)).toEqual([...made.keys()]);
    for (const one of events)
      for (const other of events) {
        if (one === other || one.tid !== other.tid || other.ts < one.ts) continue;
        const [end, otherEnd] = [one.ts + one.dur, other.ts + other.dur];
        if (other.ts < end) expect(otherEnd).toBeLessThanOrEqual(end + 1e-6);
      }
  });
});
