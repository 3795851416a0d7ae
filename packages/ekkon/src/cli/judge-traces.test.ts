import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { afterAll, expect, test } from 'vitest';
import { spanLine } from '../../tests/span-line.ts';
import { levelsIn } from '../rule/rules.ts';
import { judgeTraces, traceLines } from './judge-traces.ts';

/** Milliseconds that a machine's clock is ahead of the true time. */
type Clocks = Readonly<Record<string, number>>;

interface Told {
  readonly traceId: string;
  readonly machine: string;
  readonly name: string;
  readonly cents: number | undefined;
  /** When it was, in true time. */
  readonly start: number;
  readonly end: number;
  /** As it is delivered. */
  readonly line: string;
}

/** How many traces are judged with each setting of the clocks. */
const runs = Number(process.env['EKKON_RUNS'] ?? 400);

const faults = ['none', 'dropped', 'doubled', 'too early', 'wrong amount', 'not undone'] as const;
type Fault = (typeof faults)[number];

/**
 * What three processes did, in true time, told by their own clocks: a shop reserves in the stock, charges by the payment and
 * confirms; a failed charge is undone.
 */
function traceOf(id: string, fault: Fault, clocks: Clocks, wait: () => number): readonly Told[] {
  const told: Told[] = [];
  let now = 1_700_000_000_000 + Number.parseInt(id.slice(1), 10) * 1_000;
  const pass = () => {
    now += 1 + wait();
  };
  let spans = 0;
  const during = (
    machine: string,
    name: string,
    kind: number,
    parent: string | undefined,
    attributes: { readonly cents?: number },
    run: (span: string) => void,
  ) => {
    const spanId = `s${++spans}`;
    pass();
    const start = now;
    run(spanId);
    pass();
    const off = clocks[machine] ?? 0;
    const line = spanLine({ trace: id, id: spanId, is: `${machine}.${name}`, parent, kind, from: start + off, to: now + off, attributes });
    told.push({ traceId: id, machine, name, cents: attributes.cents, start, end: now, line });
  };
  const ask = (machine: string, name: string, parent: string, attributes: { readonly cents?: number } = {}) =>
    during('shop', `ask ${name}`, 3, parent, {}, (asked) => during(machine, name, 2, asked, attributes, () => pass()));
  during('shop', 'order', 2, undefined, {}, (order) => {
    const reserve = () => ask('stock', 'reserve', order);
    const charge = () => ask('payment', 'charge', order, { cents: fault === 'wrong amount' ? 45 : 450 });
    if (fault === 'too early') charge();
    if (fault !== 'dropped') reserve();
    if (fault !== 'too early') charge();
    if (fault === 'doubled') charge();
    if (fault === 'not undone') ask('payment', 'fail', order);
    during('shop', 'confirm', 1, order, {}, () => {});
  });
  return told;
}

const written = {
  file: 'shop.claims',
  text: `in turn stock.reserve › payment.charge › fulfilled payment.charge › shop.confirm
once payment.charge({ cents: 450 })
payment.fail leads to stock.release
`,
};

/** Whether the claims hold, read directly from the spans that were delivered, in true time. */
function holdsTruly(told: readonly Told[]): boolean {
  const charges = told.filter(({ name }) => name === 'charge');
  const steps = [
    ...told.flatMap(({ name, start }) => (['reserve', 'charge', 'confirm'].includes(name) ? [{ at: start, name }] : [])),
    ...charges.map(({ end }) => ({ at: end, name: 'charged' })),
  ];
  const order = steps.toSorted((one, other) => one.at - other.at).map(({ name }) => name);
  const isOnce = charges.filter(({ cents }) => cents === 450).length === 1;
  return order.join() === 'reserve,charge,charged,confirm' && isOnce && !told.some(({ name }) => name === 'fail');
}

const folder = mkdtempSync(join(tmpdir(), 'ekkon-traces-'));
afterAll(() => rmSync(folder, { recursive: true }));

test('a trace is judged as it was in true time, however the clocks of its machines stand', () => {
  const random = fc.sample(fc.integer({ min: 0, max: 1_000_000 }), 1)[0] ?? 1;
  let seed = random;
  const wait = () => {
    seed = (seed * 48_271) % 2_147_483_647;
    return (seed % 1_000) / 250;
  };
  for (const clocks of [{}, { payment: 2_000 }, { payment: -2_000, stock: 700 }, { stock: 3 }] satisfies Clocks[]) {
    const traces = Array.from({ length: runs }, (_, at) => {
      const fault = at % 4 === 0 ? (faults[(at / 4) % faults.length] ?? 'none') : 'none';
      const whole = traceOf(`t${at}`, fault, clocks, wait);
      // Of every fifth trace some spans are lost.
      const told = at % 5 === 0 ? whole.filter(() => wait() < 3.6) : whole;
      return { id: `t${at}`, told, isWhole: told.length === whole.length };
    }).filter(({ told }) => told.length > 0);
    // Delivered by machine, some twice, and some late.
    const lines = traces.flatMap(({ told }) => told.toSorted(() => wait() - 2).flatMap(({ line }) => (wait() > 3.9 ? [line, line] : [line])));
    const path = join(folder, 'spans.jsonl');
    writeFileSync(path, lines.join('\n'));
    const verdicts = new Map<string, 'holds' | 'fails' | 'unknown'>();
    judgeTraces(path, 'spans', written, levelsIn('loose'), { skew: 10, patience: 1_000 }, (verdict) => {
      const { ledger, holds, findings } = verdict as { ledger: string; holds: boolean; findings: readonly { code: string }[] };
      const isKnown = holds || findings.some(({ code }) => code !== 'undecidedOrder');
      verdicts.set(ledger, isKnown ? (holds ? 'holds' : 'fails') : 'unknown');
    });
    const wrong = traces.filter(({ id, told, isWhole }) => {
      const verdict = verdicts.get(id);
      // Without the spans around them nobody can tell in which order two others were.
      return isWhole || verdict !== 'unknown' ? verdict !== (holdsTruly(told) ? 'holds' : 'fails') : false;
    });
    const unknown = [...verdicts.values()].filter((verdict) => verdict === 'unknown');
    const said = wrong.map(({ id, told }) => `${id} ${verdicts.get(id)}: ${told.map(({ machine, name }) => `${machine}.${name}`).join()}`);
    expect([random, clocks, verdicts.size, said]).toEqual([random, clocks, traces.length, []]);
    expect(unknown.length).toBeLessThan(runs / 20);
  }
});

test.each([-2_000, 0, 2_000])(
  'a clock that is off by %i ms is found from spans that lie inside of others, also by way of another machine',
  (ahead) => {
    const span = (trace: string, id: string, parent: string, is: string, kind: number, from: number, to: number) => {
      const start = 1_700_000_000_000 + (is.startsWith('payment') ? ahead : 0);
      return spanLine({ trace, id, parent, is, kind, from: start + from, to: start + to });
    };
    const path = join(folder, 'clocks.jsonl');
    const lines = [
      // That the answer came long before the asking ended does not make the clock of the stock wrong.
      span('a', '1', '', 'shop.order', 2, 0, 2_000),
      span('a', '2', '1', 'shop.ask', 3, 1, 1_001),
      span('a', '3', '2', 'stock.count', 2, 2, 20),
      span('b', '1', '', 'payment.settle', 2, 0, 100),
      span('b', '2', '1', 'payment.ask', 3, 10, 90),
      span('b', '3', '2', 'stock.count', 2, 11, 89),
      // Who asked did not wait for this answer: it says nothing.
      span('c', '1', '', 'shop.order', 2, 0, 2_000),
      span('c', '2', '1', 'shop.ask', 3, 1, 40),
      span('c', '3', '2', 'payment.audit', 2, 2, 5_000),
      ...['right', 'wrong'].flatMap((trace) => [
        span(trace, '1', '', 'shop.order', 2, 0, 2_000),
        span(trace, '2', '1', 'shop.ask', 3, 1, 500),
        span(trace, '3', '2', 'stock.reserve', 2, 202, 220),
        span(trace, '5', '1', 'shop.confirm', 1, 302, 310),
        trace === 'right' ? span(trace, '4', '1', 'payment.charge', 1, 302, 400) : span(trace, '4', '1', 'payment.charge', 1, 102, 200),
      ]),
    ];
    writeFileSync(path, lines.join('\n'));
    const verdicts = new Map<string, unknown>();
    const culprits: unknown[] = [];
    judgeTraces(
      path,
      'spans',
      { file: 'c', text: 'in turn stock.reserve › payment.charge\nin turn stock.reserve › shop.confirm\n' },
      levelsIn('loose'),
      { skew: 10, patience: 1_000 },
      (verdict) => {
        const { ledger, findings, trace, spans } = verdict as {
          readonly ledger: string;
          readonly trace: string;
          readonly spans: readonly object[];
          readonly findings: readonly { readonly code: string }[];
        };
        culprits.push(...spans.map((each) => ({ trace, ...each })));
        verdicts.set(
          ledger,
          findings.map(({ code }) => code),
        );
      },
    );
    expect([verdicts.get('right'), verdicts.get('wrong')]).toEqual([[], ['outOfOrder']]);
    // The times are those that were delivered, by the machine's own clock.
    const start = `${1_700_000_000_102 + ahead}000000`;
    expect(culprits).toContainEqual({
      trace: 'wrong',
      entry: expect.any(Number),
      span: '4',
      parent: '1',
      machine: 'payment',
      start,
      end: expect.any(String),
    });
    expect(traceLines(path, 'b').filter((line) => line.includes('"begins"'))).toHaveLength(3);
    expect(() => traceLines(path, 'rigth')).toThrow(/there is no trace rigth; it has a, b, c, right, wrong/);
  },
);
