import { closingLine } from '../record/lines.ts';
import { grouped } from '../value/grouped.ts';
import { intrinsics } from '../value/intrinsics.ts';
import type { Json } from '../value/json.ts';
import { isInside } from './clocks.ts';

/** A span as OTLP's JSON has it, as far as it is read. */
interface Span {
  readonly traceId: string;
  readonly spanId: string;
  readonly parentSpanId?: string;
  /** A number, or a name that begins with `SPAN_KIND_`. */
  readonly kind?: number | string;
  readonly links?: readonly { readonly traceId: string; readonly spanId: string }[];
  readonly name: string;
  readonly startTimeUnixNano: string | number;
  readonly endTimeUnixNano?: string | number;
  readonly attributes?: readonly { readonly key: string; readonly value: AnyValue }[];
  readonly status?: { readonly code?: number | string; readonly message?: string };
}

type AnyValue = Readonly<Record<string, unknown>>;

/** A span with its place in a record. */
export interface Placed {
  readonly span: Span;
  /** The double of the call: the recorded one for a span of Ekkon's own, otherwise its service; and its name. */
  readonly double: string;
  readonly member: string;
  /** Whose clock told its times. */
  readonly machine: string;
  readonly start: bigint;
  readonly end: bigint;
}

/**
 * Spans in OTLP's JSON as the lines of a ledger file: each span is an entry, its service the double and its name the
 * member, its attributes the one argument. A span comes after its parent; others by their times.
 *
 * @param text one document, or one per line
 * @param name the name of the ledger
 * @throws TypeError if it is no such document, saying where
 */
export function fromOtlp(text: string, name: string): readonly string[] {
  const placed = [...byIdOf(documents(text).flatMap(spansOf)).values()];
  if (placed.length === 0)
    throw new TypeError('there are no spans in it: resourceSpans, scopeSpans, spans');
  return linesOfSpans(placed, name);
}

/** Spans as the lines of a ledger file. */
export function linesOfSpans(all: readonly Placed[], name: string): readonly string[] {
  return recordOfSpans(all, name).lines;
}

/** The same, with the spans in the order of the entries that are made of them. */
export function recordOfSpans(
  all: readonly Placed[],
  name: string,
): { readonly lines: readonly string[]; readonly spans: readonly Placed[] } {
  const placed = [...byIdOf(all).values()];
  const parentOf = parentsIn(placed);
  const events = inOrder(placed);
  const ids = new Map<string, number>();
  const opened = Number(events[0]?.at ?? 0n) / 1e6;
  const doubles = [...new Set(placed.map(({ double }) => double))];
  const ofStreams = placed.filter(({ span }) => streamKinds.has(kindOf(span)));
  const streams = new Set(ofStreams.map(({ double }) => double));
  const lines: Json[] = [
    { ekkon: 'ledger', version: 1, name, opened: Math.floor(opened) },
    ...doubles.map((double) => ({ double, is: streams.has(double) ? 'stream' : 'real' })),
  ];
  events.forEach(({ placed, end, at }, index) => {
    const { span, double, member } = placed;
    const time = { tick: index + 1, at: Math.floor(Number(at) / 1e6) };
    const key = `${span.traceId} ${span.spanId}`;
    if (end) {
      lines.push({ ...time, ends: ids.get(key) ?? 0, ...outcomeOf(span) });
      return;
    }
    ids.set(key, ids.size + 1);
    const parent = parentOf(placed)?.span;
    const during = parent && ids.get(`${parent.traceId} ${parent.spanId}`);
    lines.push({
      ...time,
      begins: ids.size,
      label: member === '' ? double : `${double}.${member}`,
      of: member === '' ? [double] : [double, member],
      kind: kindOf(span),
      args: argumentsOf(span),
      ...(during === undefined ? {} : { during }),
      ...(isPending(span) ? { pending: true } : {}),
    });
  });
  lines.push({ ...closingLine(ids.size) });
  return {
    lines: lines.map((line) => intrinsics.stringify(line)),
    spans: events.filter(({ end }) => !end).map((event) => event.placed),
  };
}

/** A span as verdicts name it: its id, those that it is in and belongs to, and when it was, by its own clock. */
export function spanData({ span, machine, start, end }: Placed) {
  const { spanId, parentSpanId } = span;
  return {
    span: spanId,
    ...(parentSpanId ? { parent: parentSpanId } : {}),
    machine,
    start: String(start),
    ...(isPending(span) ? {} : { end: String(end) }),
  };
}

function documents(text: string): readonly unknown[] {
  try {
    return [intrinsics.parse(text)];
  } catch {
    return text
      .split(/\r?\n/)
      .filter((line) => line.trim() !== '')
      .map((line, at) => {
        try {
          return intrinsics.parse(line);
        } catch {
          throw new TypeError(`line ${at + 1} is not JSON`);
        }
      });
  }
}

/** The spans of a document, each with its double and member. */
export function spansOf(document: unknown): readonly Placed[] {
  const list = (value: unknown, key: string): readonly Readonly<Record<string, unknown>>[] => {
    const found = (value as Readonly<Record<string, unknown>> | null)?.[key];
    return Array.isArray(found) ? found : [];
  };
  return list(document, 'resourceSpans').flatMap((resourceSpan) => {
    const attributes = list(resourceSpan['resource'], 'attributes');
    const named = attributes.find(({ key }) => key === 'service.name')?.['value'];
    const service = String(plain(named as AnyValue | undefined) ?? 'service');
    const machine = machineOf(attributes) ?? service;
    return list(resourceSpan, 'scopeSpans').flatMap((scope) =>
      list(scope, 'spans').map((span) => place(span as unknown as Span, service, machine)),
    );
  });
}

/** The name of a span's clock: the host, otherwise the process, as a collector names them. */
function machineOf(attributes: readonly Readonly<Record<string, unknown>>[]): string | undefined {
  for (const wanted of ['host.id', 'host.name', 'service.instance.id']) {
    const value = attributes.find(({ key }) => key === wanted)?.['value'];
    const text = plain(value as AnyValue | undefined);
    if (text !== undefined) return String(text);
  }
  return undefined;
}

function place(span: Span, service: string, machine: string): Placed {
  if (
    typeof span.spanId !== 'string' ||
    typeof span.traceId !== 'string' ||
    typeof span.name !== 'string'
  )
    throw new TypeError('a span needs traceId, spanId and name');
  const { attributes = [] } = span;
  try {
    const start = BigInt(span.startTimeUnixNano);
    const own = (key: string) => attributes.find((each) => each.key === key)?.value;
    const double = String(plain(own('ekkon.double')) ?? service);
    const member = String(plain(own('ekkon.member')) ?? span.name);
    return {
      span,
      double,
      member,
      machine,
      start,
      end: BigInt(span.endTimeUnixNano ?? span.startTimeUnixNano),
    };
  } catch {
    throw new TypeError(
      `span ${span.spanId} (${span.name}) has no startTimeUnixNano in whole nanoseconds`,
    );
  }
}

/** An event of a span, at its place in a record: tick 1 is the first. */
export interface SpanEvent {
  readonly placed: Placed;
  readonly end: boolean;
  readonly at: bigint;
}

/** Beginnings and ends by time, but each span inside the one that it is in, and behind those that it links to, however the clocks stand. */
export function inOrder(all: readonly Placed[]): readonly SpanEvent[] {
  const byId = byIdOf(all);
  const parentOf = parentsIn(all);
  const inner = grouped([...byId.values()], parentOf);
  const begins = new Map<Placed, bigint>();
  const latest = new Map<Placed, bigint>();
  const visit = [...(inner.get(undefined) ?? [])];
  for (let placed = visit.pop(); placed !== undefined; placed = visit.pop()) {
    const parent = parentOf(placed);
    const most = parent !== undefined && isInside(placed, parent) ? latest.get(parent) : undefined;
    const least = parent === undefined ? placed.start : (begins.get(parent) ?? placed.start);
    const start = between(placed.start, least, most);
    begins.set(placed, start);
    latest.set(placed, between(placed.end, start, most));
    visit.push(...(inner.get(placed) ?? []));
  }
  putBehindLinks(begins, byId);
  const rank = new Map([...begins.keys()].map((placed, at) => [placed, at]));
  const events = [...begins].flatMap(([placed, start]): SpanEvent[] => {
    const end = latest.get(placed) ?? placed.end;
    const begin = { placed, end: false, at: start };
    if (isPending(placed.span)) return [begin];
    return [begin, { placed, end: true, at: end < start ? start : end }];
  });
  return events.sort((one, other) => {
    if (one.at !== other.at) return one.at < other.at ? -1 : 1;
    if (one.placed === other.placed) return one.end ? 1 : -1;
    if (one.end !== other.end) {
      // A span that takes no time begins and ends at one moment: its beginning is never after its end.
      return one.end ? 1 : -1;
    }
    const order = (rank.get(one.placed) ?? 0) - (rank.get(other.placed) ?? 0);
    return one.end ? -order : order;
  });
}

/** A time, moved so that it is not before one and not after another, if there is one. */
function between(time: bigint, least: bigint, most: bigint | undefined): bigint {
  const late = time < least ? least : time;
  return most !== undefined && late > most && most >= least ? most : late;
}

/** Spans by their ids. One that was delivered twice is one. */
export function byIdOf(all: readonly Placed[]): ReadonlyMap<string, Placed> {
  const found = new Map<string, Placed>();
  for (const placed of all) {
    const id = `${placed.span.traceId} ${placed.span.spanId}`;
    if (!found.has(id)) found.set(id, placed);
  }
  return found;
}

/**
 * The parent of each span. Spans cannot contain each other: the one that begins first has no parent, and neither has
 * a span that names itself.
 *
 * @param tell receives the spans of such a circle
 */
export function parentsIn(
  all: readonly Placed[],
  tell: (circle: readonly Placed[]) => void = () => {},
): (placed: Placed) => Placed | undefined {
  const byId = byIdOf(all);
  const named = ({ span: { traceId, parentSpanId } }: Placed) =>
    parentSpanId ? byId.get(`${traceId} ${parentSpanId}`) : undefined;
  const roots = new Set<Placed>();
  const isDone = new Set<Placed>();
  for (const placed of byId.values()) {
    const path = new Set<Placed>();
    let at: Placed | undefined = placed;
    for (; at !== undefined && !isDone.has(at) && !path.has(at); at = named(at)) path.add(at);
    if (at !== undefined && path.has(at)) {
      const circle = [...path].slice([...path].indexOf(at));
      const [first] = circle.toSorted((one, other) => (one.start < other.start ? -1 : 1));
      if (first !== undefined) roots.add(first);
      tell(circle);
    }
    for (const each of path) isDone.add(each);
  }
  return (placed) => (roots.has(placed) ? undefined : named(placed));
}

/** Spans behind those that they link to: again and again, since one may link to one that has been moved. */
function putBehindLinks(begins: Map<Placed, bigint>, byId: ReadonlyMap<string, Placed>): void {
  let isMoved = true;
  for (let round = 0; isMoved && round < linksFollowed; round++) {
    isMoved = false;
    for (const [placed, start] of begins) {
      for (const linked of linkedBy(placed, byId)) {
        const least = (begins.get(linked) ?? start) + 1n;
        if (least <= (begins.get(placed) ?? start)) continue;
        begins.set(placed, least);
        isMoved = true;
      }
    }
  }
}

/** How long a chain of links may be. */
const linksFollowed = 20;

/** The spans that one links to, as far as they are there. */
export function linkedBy(
  { span: { links = [] } }: Placed,
  byId: ReadonlyMap<string, Placed>,
): readonly Placed[] {
  return links.flatMap(({ traceId, spanId }) => byId.get(`${traceId} ${spanId}`) ?? []);
}

/** The arguments of a span: the recorded ones for a span of Ekkon's own, otherwise its attributes. */
function argumentsOf({ attributes = [] }: Span): Json {
  const own = attributes.find(({ key }) => key === 'ekkon.args');
  if (own !== undefined) return intrinsics.parse(String(plain(own.value))) as Json;
  if (attributes.length === 0) return [];
  return [Object.fromEntries(attributes.map(({ key, value }) => [key, asJson(plain(value))]))];
}

/** An attribute of a span of Ekkon's own, about the entry behind it. */
function ownOf({ attributes = [] }: Span, key: string): string | undefined {
  const found = attributes.find((each) => each.key === `ekkon.${key}`);
  return found === undefined ? undefined : String(plain(found.value));
}

const streamKinds: ReadonlySet<string> = new Set(['item', 'end', 'failure']);

function kindOf(span: Span): string {
  return ownOf(span, 'kind') ?? 'call';
}

/** Whether a span is of a call that had not ended. */
function isPending(span: Span): boolean {
  return ownOf(span, 'state') === 'pending';
}

function outcomeOf(span: Span): { readonly [key: string]: Json } {
  const { status } = span;
  const read = (key: string) => ownOf(span, key);
  const state = read('state');
  if (state === 'returned' || state === 'fulfilled')
    return { state, value: intrinsics.parse(read('value') ?? '{"$":"undefined"}') };
  if (state === 'threw' || state === 'rejected')
    return { state, reason: intrinsics.parse(read('reason') ?? '{"$":"undefined"}') };
  const isFailed = status?.code === 2 || status?.code === 'STATUS_CODE_ERROR';
  return isFailed
    ? { state: 'rejected', reason: status?.message ?? { $: 'undefined' } }
    : { state: 'fulfilled', value: { $: 'undefined' } };
}

/** A value of OTLP's as a plain one. */
function plain(value: AnyValue | undefined): unknown {
  if (value === undefined || value === null) return undefined;
  const [kind, held] = Object.entries(value)[0] ?? [];
  switch (kind) {
    case 'intValue':
    case 'doubleValue':
      return Number(held);
    case 'arrayValue':
      return ((held as { values?: readonly AnyValue[] }).values ?? []).map(plain);
    case 'kvlistValue':
      return Object.fromEntries(
        ((held as { values?: readonly { key: string; value: AnyValue }[] }).values ?? []).map(
          (each) => [each.key, plain(each.value)],
        ),
      );
    default:
      return held;
  }
}

function asJson(value: unknown): Json {
  return value === undefined ? { $: 'undefined' } : (value as Json);
}
