import type { NearEntry } from '../explain/finding.ts';
import { printCall } from '../notation/call.ts';
import { shortValue } from '../notation/value.ts';
import type { Entry } from '../record/entry.ts';
import type { Difference } from '../value/difference.ts';
import { type Block, faint, indented, type Line, piece } from './block.ts';
import { clip, entryMargin, margin } from './layout.ts';
import { printSite, printSiteBeside } from './places.ts';
import { patternShown, placed } from './words.ts';

/** An entry that comes near, where it differs, and where its arguments read otherwise now. */
export function nearBlocks(near: NearEntry, width: number, most: number): readonly Block[] {
  return [
    ...entryLines([near.entry], width),
    { is: 'differences', differences: near.differences, most },
    ...changesOf(near.changedSince),
    ...(near.source === undefined ? [] : [indented(sourceSentence(near.source), entryMargin)]),
  ];
}

/** `#5 scale.weigh("N4") had returned undefined (shift.mjs:51)`. */
function sourceSentence(source: Entry): string {
  const { id, outcome, site } = source;
  const value = 'value' in outcome ? shortValue(outcome.value) : '';
  const how = outcome.state === 'fulfilled' ? 'had been fulfilled with' : 'had returned';
  return `#${id} ${clip(printCall(source), patternShown)} ${how} ${value}${placed(site)}`;
}

/** Where arguments read otherwise now than when they were recorded, if they do. */
export function changesOf(changes: readonly Difference[]): readonly Block[] {
  return changes.length === 0 ? [] : [{ is: 'changes', changes }];
}

/** Whether all of several calls were made on one line, which others called: these tell the calls apart. */
function areFromOneLine(entries: readonly Entry[]): boolean {
  const placesAt = (at: number) => new Set(entries.map(({ sites }) => printSite(sites[at])));
  return placesAt(0).size === 1 && placesAt(1).size > 1;
}

/** The minimum room for a call, even if the line becomes wider than the report. */
const narrowestCall = 56;

/** Entries a line each: number, call, call site in one column, and a note on those that have one. */
export function entryLines(
  entries: readonly Entry[],
  width: number,
  noteOf: (entry: Entry) => string | undefined = () => undefined,
): readonly Line[] {
  const isHelper = areFromOneLine(entries);
  const rows = entries.map((entry) => ({
    entry,
    call: printCall(entry),
    site: (isHelper ? entry.sites : [entry.site])
      .map((site) => printSiteBeside(site, width))
      .join(', from '),
    note: noteOf(entry),
  }));
  const after = Math.max(
    ...rows.map(({ site, note }) => site.length + (note === undefined ? 0 : note.length + 5)),
  );
  const room = Math.max(
    Math.min(narrowestCall, width - 36),
    width - margin.length - entryMargin.length - after - 3,
  );
  const column = Math.min(room, Math.max(...rows.map(({ call }) => call.length)));
  return rows.map(({ entry, call, site, note }) => {
    const shown = clip(call, room).padEnd(column);
    const start = `${`#${entry.id}`.padEnd(4)} ${shown}`;
    if (note !== undefined) return [`${start}   `, faint(site), piece('culprit', `   ◂ ${note}`)];
    return site === '' ? start.trimEnd() : [`${start}   `, faint(site)];
  });
}
