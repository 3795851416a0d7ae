import { encode, type ShowValue } from '../value/encode.ts';
import { intrinsics } from '../value/intrinsics.ts';
import type { Json } from '../value/json.ts';
import { bodyOf } from './bodies.ts';
import { readSite, type Site } from './call-site.ts';
import type { DoubleKind } from './double-names.ts';
import { doublesNamed } from './double-names.ts';
import { eventsOf } from './events.ts';
import type { HeldEntry, Journal } from './journal.ts';
import { type HeldMark, isMark } from './mark.ts';

/** The version of the format that is written; newer ones are refused. */
export const formatVersion = 1;

/** How values and files are shown in the lines. */
export interface LineOptions {
  readonly show: ShowValue;
  /** A call site's file as it is to be written. Default: as recorded. */
  readonly fileOf?: (file: string) => string;
  /** Whether wall times and call sites are left out: times stand as 0. */
  readonly bare?: boolean;
  /** Whether more lines will follow, so there is no closing line yet. */
  readonly goesOn?: boolean;
}

/** One line of a ledger file. */
export type Line = { readonly [key: string]: Json };

/**
 * Writes a record as JSON Lines: a header, the doubles, then an event a line in the order of their ticks, and a closing
 * line. Each line is without its line break.
 */
export function toLines(journal: Journal, options: LineOptions): readonly string[] {
  const header = headerLine(journal);
  const lines: Line[] = [options.bare === true ? { ...header, opened: 0 } : header];
  for (const [name, kind] of doublesNamed(journal)) lines.push(doubleLine(name, kind));
  eventsOf(journal).forEach((event, at) => {
    if (event !== undefined) lines.push(eventLine(event, at + 1, options));
  });
  if (options.goesOn !== true) lines.push(closingLine(journal.entries.length));
  return lines.map((line) => intrinsics.stringify(line));
}

/** The line of a tick: a mark, or an entry's beginning or end. */
export function eventLine(event: HeldEntry | HeldMark, tick: number, options: LineOptions): Line {
  if (isMark(event)) return markLine(event);
  return event.began === tick ? beginLine(event, options) : endLine(event, options);
}

export function headerLine({ name, openedAt }: Journal): Line {
  return { ekkon: 'ledger', version: formatVersion, name, opened: openedAt };
}

/** The last line: a file without it was cut off. */
export function closingLine(entries: number): Line {
  return { closes: 'ledger', entries };
}

export function doubleLine(double: string, is: DoubleKind): Line {
  return { double, is };
}

export function markLine({ tick, label }: HeldMark): Line {
  return { tick, mark: label ?? null };
}

/** An entry's beginning; whether its promise had not settled yet stands there too. */
export function beginLine(entry: HeldEntry, { show, fileOf, bare }: LineOptions): Line {
  const { began, id, target, kind, args, receiver, parent, outcome, more, beganAt } = entry;
  const { label, double, keys, openedAt } = target;
  const site = bare === true ? undefined : readSite(more?.captured);
  const { answer } = more ?? {};
  return {
    tick: began,
    begins: id,
    label,
    of: [double, ...keys.map((key) => (typeof key === 'symbol' ? encode(key, show) : String(key)))],
    kind,
    at: bare === true ? 0 : openedAt + beganAt,
    args: encode(args, show),
    ...(receiver === undefined ? {} : { on: show(receiver) }),
    ...(parent === undefined ? {} : { during: parent }),
    ...(site === undefined ? {} : { site: siteLine(site, fileOf) }),
    ...(outcome.state === 'pending' ? { pending: true } : {}),
    ...(answer === undefined ? {} : { by: [answer.plan, answer.reply] }),
  };
}

function siteLine({ file, line, column }: Site, fileOf: LineOptions['fileOf']): Json {
  return [fileOf === undefined ? file : fileOf(file), line, column];
}

export function endLine(entry: HeldEntry, { show, bare }: LineOptions): Line {
  const { id, ended = 0, outcome, more, beganAt, target } = entry;
  const { answer } = more ?? {};
  const read = bodyOf(entry);
  const end = {
    tick: ended,
    ends: id,
    at: bare === true ? 0 : target.openedAt + (more?.endedAt ?? beganAt),
    state: outcome.state,
    // Known only now if the lines are written as the record grows.
    ...(answer === undefined ? {} : { by: [answer.plan, answer.reply] }),
    ...(read === undefined ? {} : { body: encode(read.body, show) }),
  };
  switch (outcome.state) {
    case 'returned':
    case 'fulfilled':
      return { ...end, value: encode(outcome.value, show) };
    case 'threw':
    case 'rejected':
      return { ...end, reason: encode(outcome.reason, show) };
    case 'running':
    case 'pending':
      return end;
  }
}
