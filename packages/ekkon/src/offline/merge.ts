import { shortValue } from '../notation/value.ts';
import { doublesNamed } from '../record/double-names.ts';
import { eventsOf } from '../record/events.ts';
import type { Journal } from '../record/journal.ts';
import { doubleLine, eventLine, headerLine, type Line } from '../record/lines.ts';
import { fromLines } from '../record/read-lines.ts';
import { intrinsics } from '../value/intrinsics.ts';

interface Timed {
  readonly at: number;
  readonly from: number;
  readonly line: Line;
}

/**
 * Several records of one machine as one, by wall time: each keeps its own order, and events of one millisecond stand
 * in the order of the given records. Doubles of one name are one double.
 */
export function mergeJournals(journals: readonly Journal[]): Journal {
  const names = [...new Set(journals.map(({ name }) => name))];
  const first = Math.min(...journals.map(({ openedAt }) => openedAt));
  const lines: Line[] = [
    { ...headerLine(journals[0] as Journal), name: names.join(' + '), opened: first },
  ];
  const doubles = new Set<string>();
  for (const journal of journals) {
    for (const [name, kind] of doublesNamed(journal)) {
      if (doubles.has(name)) continue;
      doubles.add(name);
      lines.push(doubleLine(name, kind));
    }
  }
  const events = journals.flatMap(timedLines);
  events.sort((one, other) => one.at - other.at || one.from - other.from);
  const ids = journals.map(() => new Map<unknown, number>());
  let last = 0;
  events.forEach(({ line, from }, index) => {
    const known = ids[from] as Map<unknown, number>;
    if (line['begins'] !== undefined) known.set(line['begins'], ++last);
    const id = (key: string) =>
      line[key] === undefined ? {} : { [key]: known.get(line[key]) ?? 0 };
    lines.push({ ...line, tick: index + 1, ...id('begins'), ...id('ends'), ...id('during') });
  });
  return fromLines(lines.map((line) => intrinsics.stringify(line)).join('\n')).journal;
}

/** The events of a record as lines, each with a time that is not before the one ahead of it. */
function timedLines(journal: Journal, from: number): readonly Timed[] {
  let now = 0;
  return eventsOf(journal).flatMap((event, at): Timed[] => {
    if (event === undefined) return [];
    const line = eventLine(event, at + 1, { show: shortValue });
    // A mark has no time of its own.
    now = Math.max(now, Number(line['at'] ?? now));
    return [{ at: now, from, line }];
  });
}
