/** A span, with its times in milliseconds. */
export interface GivenSpan {
  readonly trace: string;
  readonly id: string;
  /** Its service and its name: `dome.open`. */
  readonly is: string;
  readonly from: number;
  readonly to: number;
  readonly parent?: string | undefined;
  readonly kind?: number;
  /** The trace and the id of a span that it links to. */
  readonly link?: string;
  readonly host?: string;
  readonly attributes?: Readonly<Record<string, number>>;
}

/** A document of OTLP/JSON with one span, on one line, as collectors write it. */
export function spanLine({ trace, id, is, from, to, parent, kind, link, host, attributes = {} }: GivenSpan): string {
  const [service = '', name] = is.split('.');
  const at = (ms: number) => `${Math.round(ms * 1e3)}000`;
  const named = { 'service.name': service, ...(host === undefined ? {} : { 'host.name': host }) };
  const span = {
    traceId: trace,
    spanId: id,
    name,
    ...(parent ? { parentSpanId: parent } : {}),
    ...(kind === undefined ? {} : { kind }),
    ...(link === undefined ? {} : { links: [{ traceId: trace, spanId: link }] }),
    startTimeUnixNano: at(from),
    endTimeUnixNano: at(to),
    attributes: Object.entries(attributes).map(([key, intValue]) => ({ key, value: { intValue } })),
  };
  const resource = { attributes: Object.entries(named).map(([key, stringValue]) => ({ key, value: { stringValue } })) };
  return JSON.stringify({ resourceSpans: [{ resource, scopeSpans: [{ spans: [span] }] }] });
}
