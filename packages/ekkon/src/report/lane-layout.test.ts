import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { forAll } from '../../tests/for-all.ts';
import { textOf } from './block.ts';
import { type Laned, laneLayout } from './lane-layout.ts';
import { lanes, noteKey } from './lanes.ts';

/** Entries from a list of what happens: a call begins on one of three doubles, or one of those under way ends. */
const records = fc.array(fc.record({ begins: fc.boolean(), which: fc.nat(40) }), { maxLength: 120 }).map((happens) => {
  const entries: { -readonly [K in keyof Laned]: Laned[K] }[] = [];
  const open: (typeof entries)[number][] = [];
  happens.forEach(({ begins, which }, at) => {
    if (begins || open.length === 0) {
      const entry = { id: entries.length + 1, kind: 'call' as const, double: `double ${which % 3}`, began: at + 1, ended: undefined };
      entries.push(entry);
      open.push(entry);
    } else {
      const [entry] = open.splice(which % open.length, 1);
      if (entry !== undefined) entry.ended = at + 1;
    }
  });
  return entries as readonly Laned[];
});

describe('the layout of lanes', () => {
  test('has a row for each event in the order of ticks, and finds each again', () => {
    forAll(100, records, fc.array(fc.integer({ min: 121, max: 200 }), { maxLength: 3 }), (entries, ticks) => {
      const marks = [...new Set(ticks)].map((tick) => ({ tick, label: undefined }));
      const { rows, rowOf } = laneLayout(entries, marks);
      const whole = entries.filter(({ began, ended }) => ended === undefined || ended === began + 1);
      expect(rows).toHaveLength(entries.length * 2 - whole.length + marks.length);
      expect(rows.map(({ tick }) => tick)).toEqual(rows.map(({ tick }) => tick).toSorted((one, other) => one - other));
      for (const { id, began, ended } of entries) {
        expect(rows[rowOf(id, false) ?? -1]).toMatchObject({ tick: began, end: false });
        if (ended !== undefined && ended > began + 1) expect(rows[rowOf(id, true) ?? -1]).toMatchObject({ tick: ended, end: true });
      }
      expect(rowOf(entries.length + 1, false)).toBeUndefined();
    });
  });

  test('gives calls that overlap in a lane columns of their own, from the left, twelve at most', () => {
    forAll(100, records, (entries) => {
      const { rows, spansIn, columns, doubles } = laneLayout(entries);
      const spans = spansIn(0, rows.length);
      for (const row of rows) {
        if ('mark' in row || row.end) continue;
        const taken = spans.filter(({ lane, from, to, id }) => {
          const at = rows.indexOf(row);
          return lane === row.lane && id !== row.entry.id && from < at && (to ?? rows.length) > at;
        });
        const free = Array.from({ length: 13 }, (_, column) => column).find(
          (column) => column === 12 || taken.every((span) => span.column !== column),
        );
        expect(row.column).toBe(free);
        expect(columns[row.lane]).toBeGreaterThan(row.column);
      }
      expect(doubles).toEqual([...new Set(entries.map(({ double }) => double))]);
    });
  });

  test('draws no span for what is the thirteenth under way, and counts it to no column after that', () => {
    const open = Array.from({ length: 14 }, (_, at): Laned => ({ id: at + 1, kind: 'call', double: 'dome', began: at + 1, ended: 40 - at }));
    const { rows, columns, spansIn } = laneLayout([...open, { id: 15, kind: 'call', double: 'dome', began: 30, ended: 31 }]);
    expect(rows.slice(0, 14).map((row) => ('mark' in row ? -1 : row.column))).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 12]);
    expect([columns, spansIn(0, rows.length).length]).toEqual([[13], 12]);
    expect(rows.find((row) => !('mark' in row) && row.entry.id === 15)).toMatchObject({ column: 10 });
  });

  test('finds the spans of any rows as looking at each of them does, in long records too', () => {
    const entries = Array.from({ length: 2_000 }, (_, at): Laned => {
      const began = at * 2 + 1;
      return { id: at + 1, kind: 'call', double: 'dome', began, ended: at % 300 === 0 ? undefined : began + 1 + (at % 7) * 200 };
    });
    const ticks = new Set<number>();
    const apart = entries.map((entry) => {
      let { ended } = entry;
      while (ended !== undefined && (ticks.has(ended) || ended % 2 === 1)) ended++;
      if (ended !== undefined) ticks.add(ended);
      return { ...entry, ended };
    });
    const { rows, spansIn } = laneLayout(apart);
    const all = spansIn(0, rows.length);
    for (const [first, last] of [
      [0, 10],
      [250, 260],
      [1_000, 1_700],
      [rows.length - 1, rows.length],
    ] as const) {
      const found = spansIn(first, last)
        .map(({ id }) => id)
        .toSorted((one, other) => one - other);
      const looked = all.filter(({ from, to }) => from <= last && (to ?? rows.length) >= first).map(({ id }) => id);
      expect(found).toEqual(looked.toSorted((one, other) => one - other));
    }
  });

  test('is drawn as text with what is under way in its column, marks across, and what is said beside events', () => {
    const data = { args: [], at: { began: 0, ended: 0 }, site: undefined, sites: [], parent: undefined, answer: undefined, receiver: undefined };
    const entry = (id: number, double: string, member: string, began: number, ended: number | undefined, state: 'returned' | 'pending') => ({
      ...data,
      ...{ id, double, member, began, ended, label: `${double}.${member}`, kind: 'call' as const },
      outcome: state === 'returned' ? { state, value: undefined } : { state },
    });
    const entries = [
      entry(1, 'mount', 'slewTo', 1, 6, 'returned'),
      entry(2, 'mount', 'park', 2, undefined, 'pending'),
      entry(3, 'dome', 'open', 4, 5, 'returned'),
    ];
    const notes = new Map([[noteKey(3, false), 'too early']]);
    expect(lanes(entries, notes, 80, [{ tick: 3, label: 'dusk' }]).map(textOf)).toEqual([
      '       tick  mount        dome',
      '#1        1  ┬ slewTo()',
      '#2        2  │┬ park()',
      '          3  ── mark "dusk" ──',
      '#3        4  ││           ■ open()   ◂ too early',
      '#1        6  ┴│ returned',
    ]);
    const long = new Map([[noteKey(3, false), 'x'.repeat(100)]]);
    expect(lanes(entries, long, 80).map(textOf)[0]).toBe('       tick  mount    dome');
  });
});
