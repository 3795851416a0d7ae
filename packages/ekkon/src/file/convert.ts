import { createHash } from 'node:crypto';
import { printCall } from '../notation/call.ts';
import { shortValue } from '../notation/value.ts';
import { encode } from '../record/encode.ts';
import type { LoadedEntry } from '../record/read-lines.ts';

/** A record as it is converted: its name and its entries. */
export interface Converted {
  readonly name: string;
  readonly entries: readonly LoadedEntry[];
}

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
export function toCsv({ entries }: Converted): string {
  const lines = entries.map((entry) => {
    const { id, began, ended, at, double, member, kind, outcome, parent, site } = entry;
    const cells: Readonly<Record<(typeof columns)[number], unknown>> = {
      id,
      began,
      ended,
      at: new Date(at.began).toISOString(),
      until: at.ended === undefined ? undefined : new Date(at.ended).toISOString(),
      double,
      member,
      kind,
      call: printCall(entry),
      state: outcome.state,
      result: resultOf(entry),
      parent,
      site: site === undefined ? undefined : `${site.file}:${site.line}:${site.column}`,
    };
    return columns.map((column) => cell(cells[column])).join(',');
  });
  return [columns.join(','), ...lines, ''].join('\r\n');
}

/** Quoted where it has to be; what a spreadsheet would run is text. */
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

/** A record in the trace-event format of Chromium: a thread for each double, microseconds since it began. */
export function toTraceEvents({ name, entries }: Converted): string {
  const doubles = [...new Set(entries.map(({ double }) => double))];
  const start = entries[0]?.at.began ?? 0;
  const last = Math.max(0, ...entries.slice(-1000).map(({ at }) => at.ended ?? at.began));
  const names = doubles.map((double, thread) => ({
    ph: 'M',
    name: 'thread_name',
    pid: 1,
    tid: thread + 1,
    args: { name: double },
  }));
  const events = entries.map((entry) => ({
    ph: 'X',
    name: entry.label,
    cat: entry.kind,
    pid: 1,
    tid: doubles.indexOf(entry.double) + 1,
    ts: (entry.at.began - start) * 1000,
    dur: ((entry.at.ended ?? last) - entry.at.began) * 1000,
    args: {
      id: entry.id,
      call: printCall(entry),
      state: entry.outcome.state,
      result: resultOf(entry),
    },
  }));
  const process = { ph: 'M', name: 'process_name', pid: 1, args: { name } };
  return `${JSON.stringify({ traceEvents: [process, ...names, ...events], displayTimeUnit: 'ms' })}\n`;
}

/** A record as spans in OTLP's JSON: one for each entry, in a trace of the ledger's own. */
export function toOtlp({ name, entries }: Converted): string {
  const trace = hash(`${name} ${entries[0]?.at.began ?? 0}`).slice(0, 32);
  const spans = entries.map((entry) => {
    const { id, label, double, member, kind, at, outcome, parent, args, began, ended } = entry;
    const isFailed = outcome.state === 'threw' || outcome.state === 'rejected';
    return {
      traceId: trace,
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
        attribute('ekkon.args', JSON.stringify(encode(args, shortValue))),
        attribute('ekkon.state', outcome.state),
        ...resultAttributes(outcome),
        attribute('ekkon.began', String(began)),
        ...(ended === undefined ? [] : [attribute('ekkon.ended', String(ended))]),
      ],
      status: { code: isFailed ? 2 : 0 },
    };
  });
  const resource = { attributes: [attribute('service.name', name)] };
  return `${JSON.stringify({ resourceSpans: [{ resource, scopeSpans: [{ scope: { name: 'ekkon' }, spans }] }] })}\n`;
}

function resultAttributes(outcome: LoadedEntry['outcome']): readonly unknown[] {
  if ('value' in outcome)
    return [attribute('ekkon.value', JSON.stringify(encode(outcome.value, shortValue)))];
  if ('reason' in outcome)
    return [attribute('ekkon.reason', JSON.stringify(encode(outcome.reason, shortValue)))];
  return [];
}

function attribute(key: string, text: string) {
  return { key, value: { stringValue: text } };
}

function spanId(id: number): string {
  return id.toString(16).padStart(16, '0');
}

/** The tick is told in the nanoseconds, so that what came in one millisecond keeps its order. */
function nanoseconds(milliseconds: number, tick: number): string {
  return `${Math.round(milliseconds)}${String(tick % 1_000_000).padStart(6, '0')}`;
}

function hash(text: string): string {
  return createHash('sha256').update(text).digest('hex');
}
