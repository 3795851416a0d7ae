import { createHash } from 'node:crypto';
import { printCall } from '../notation/call.ts';
import { shortValue } from '../notation/value.ts';
import type { LoadedEntry } from '../record/read-lines.ts';
import { encode } from '../value/encode.ts';
import { intrinsics } from '../value/intrinsics.ts';

/** Turns a record into text of another form as its entries come: what to write first, for each entry, and last. */
export interface Converter {
  readonly head: string;
  entry(entry: LoadedEntry): string;
  foot(): string;
}

/** The forms a record can be converted to, each by the record's name. */
export const converters = {
  csv: toCsv,
  trace: toTraceEvents,
  otlp: toOtlp,
} satisfies Readonly<Record<string, (name: string) => Converter>>;

const columns = [
  'id',
  'began',
  'ended',
  'at',
  'until',
  'double',
  'member',
  'kind',
  'call',
  'state',
  'result',
  'parent',
  'site',
] as const;

/** A record as CSV (RFC 4180): a header, and an entry a line. */
function toCsv(): Converter {
  return {
    head: `${columns.join(',')}\r\n`,
    entry(entry) {
      const { id, began, ended, at, double, member, kind, outcome, parent, site } = entry;
      const cells: Readonly<Record<(typeof columns)[number], unknown>> = {
        id,
        began,
        ended,
        at: new intrinsics.Date(at.began).toISOString(),
        until: at.ended === undefined ? undefined : new intrinsics.Date(at.ended).toISOString(),
        double,
        member,
        kind,
        call: printCall(entry),
        state: outcome.state,
        result: resultOf(entry),
        parent,
        site: site === undefined ? undefined : `${site.file}:${site.line}:${site.column}`,
      };
      return `${columns.map((column) => cell(cells[column])).join(',')}\r\n`;
    },
    foot: () => '',
  };
}

/** Quoted if necessary; text that a spreadsheet would run is marked as text. */
function cell(value: unknown): string {
  if (value === undefined) return '';
  const text = String(value);
  const safe = typeof value === 'string' && /^[=+\-@\t\r]/.test(text) ? `'${text}` : text;
  return /[",\r\n]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
}

function resultOf({ outcome }: LoadedEntry): string | undefined {
  if ('value' in outcome) return shortValue(outcome.value, 200);
  return 'reason' in outcome ? shortValue(outcome.reason, 200) : undefined;
}

/** A row of a trace viewer: on each, calls are inside of each other or apart. */
interface Track {
  readonly thread: number;
  /** When the calls end in which another one could begin, the innermost last. */
  readonly ends: number[];
  /** When the last call on it began. */
  began: number;
}

/**
 * A record in the trace-event format of Chromium, in microseconds since it began: a thread for each double, and more
 * of them for calls of one double that overlap, because a viewer draws only nested ones on one thread.
 */
function toTraceEvents(name: string): Converter {
  const tracks = new Map<string, Track[]>();
  let threads = 0;
  let start: number | undefined;
  let last = 0;
  const open: { readonly entry: LoadedEntry; readonly thread: number }[] = [];
  const metadata = (what: string, thread: number, named: string) =>
    intrinsics.stringify({
      ph: 'M',
      name: what,
      pid: 1,
      ...(thread > 0 ? { tid: thread } : {}),
      args: { name: named },
    });
  const time = (milliseconds: number, tick: number) => {
    start ??= milliseconds;
    // The tick keeps the order of events in the same millisecond.
    return (milliseconds - start) * 1_000 + (tick % 1_000_000) / 1_000;
  };
  const event = (entry: LoadedEntry, thread: number, until: number) => {
    const began = time(entry.at.began, entry.began);
    return `,\n${intrinsics.stringify({
      ph: 'X',
      name: entry.label,
      cat: entry.kind,
      pid: 1,
      tid: thread,
      ts: began,
      dur: Math.max(0, until - began),
      args: {
        id: entry.id,
        call: printCall(entry),
        state: entry.outcome.state,
        result: resultOf(entry),
      },
    })}`;
  };
  return {
    head: `{"traceEvents":[${metadata('process_name', 0, name)}`,
    entry(entry) {
      const { double, began, ended, at } = entry;
      const until = time(at.ended ?? at.began, ended ?? began);
      last = Math.max(last, until);
      const known = tracks.get(double) ?? [];
      let track = known.find((each) => isRoomOn(each, began, ended));
      let lead = '';
      if (track === undefined) {
        track = { thread: ++threads, ends: [], began };
        known.push(track);
        tracks.set(double, known);
        const named = known.length === 1 ? double : `${double} (${known.length})`;
        lead = `,\n${metadata('thread_name', track.thread, named)}`;
      }
      track.ends.push(ended ?? Number.POSITIVE_INFINITY);
      track.began = began;
      if (ended !== undefined) return lead + event(entry, track.thread, until);
      // A call that never ended lasts as long as the record.
      open.push({ entry, thread: track.thread });
      return lead;
    },
    foot: () =>
      `${open.map(({ entry, thread }) => event(entry, thread, last)).join('')}],"displayTimeUnit":"ms"}\n`,
  };
}

/** Whether a call can be drawn on a track: it began after the last one there, and ends no later than the call around it. */
function isRoomOn({ ends, began: before }: Track, began: number, ended = Infinity): boolean {
  if (began < before) return false;
  while ((ends.at(-1) ?? Infinity) < began) ends.pop();
  return ended <= (ends.at(-1) ?? Infinity);
}

/** A record as spans in OTLP's JSON: one for each entry, in a trace of the ledger's own. */
function toOtlp(name: string): Converter {
  const resource = { attributes: [attribute('service.name', name)] };
  let trace: string | undefined;
  return {
    head: `{"resourceSpans":[{"resource":${intrinsics.stringify(resource)},"scopeSpans":[{"scope":{"name":"ekkon"},"spans":[`,
    entry(entry) {
      const separator = trace === undefined ? '' : ',';
      trace ??= hash(`${name} ${entry.at.began}`).slice(0, 32);
      return `${separator}\n${intrinsics.stringify(spanOf(entry, trace))}`;
    },
    foot: () => ']}]}]}\n',
  };
}

function spanOf(entry: LoadedEntry, traceId: string) {
  const { id, label, double, member, kind, at, outcome, parent, args, began, ended } = entry;
  const isFailed = outcome.state === 'threw' || outcome.state === 'rejected';
  return {
    traceId,
    spanId: spanId(id),
    ...(parent === undefined ? {} : { parentSpanId: spanId(parent) }),
    name: label,
    kind: 1,
    startTimeUnixNano: nanoseconds(at.began, began),
    endTimeUnixNano: nanoseconds(at.ended ?? at.began, ended ?? began),
    attributes: [
      attribute('ekkon.double', double),
      attribute('ekkon.member', member),
      attribute('ekkon.kind', kind),
      attribute('ekkon.args', intrinsics.stringify(encode(args, shortValue))),
      attribute('ekkon.state', outcome.state),
      ...resultAttributes(outcome),
      attribute('ekkon.began', String(began)),
      ...(ended === undefined ? [] : [attribute('ekkon.ended', String(ended))]),
    ],
    status: { code: isFailed ? 2 : 0 },
  };
}

function resultAttributes(outcome: LoadedEntry['outcome']): readonly unknown[] {
  if ('value' in outcome)
    return [attribute('ekkon.value', intrinsics.stringify(encode(outcome.value, shortValue)))];
  if ('reason' in outcome)
    return [attribute('ekkon.reason', intrinsics.stringify(encode(outcome.reason, shortValue)))];
  return [];
}

function attribute(key: string, text: string) {
  return { key, value: { stringValue: text } };
}

function spanId(id: number): string {
  return id.toString(16).padStart(16, '0');
}

/** The nanoseconds hold the tick, so events in the same millisecond keep their order. */
function nanoseconds(milliseconds: number, tick: number): string {
  return `${Math.round(milliseconds)}${String(tick % 1_000_000).padStart(6, '0')}`;
}

function hash(text: string): string {
  return createHash('sha256').update(text).digest('hex');
}
