import { recordedEvents } from '../alter/change.ts';
import { claimOf } from '../claim/kinds.ts';
import { aboutClaim } from '../explain/diagnosis.ts';
import type { Diagnosis, Moment } from '../explain/finding.ts';
import { linesOfFile } from '../file/read-file.ts';
import { makeEvidence } from '../judge/evidence.ts';
import { Clocks, corrected } from '../offline/clocks.ts';
import { type ClaimsText, judgeJournal } from '../offline/judge-record.ts';
import { judgeLoosely } from '../offline/loose-order.ts';
import { orderOfSpans, type SpanOrder } from '../offline/skew.ts';
import {
  byIdOf,
  linesOfSpans,
  type Placed,
  parentsIn,
  recordOfSpans,
  spanData,
  spansOf,
} from '../offline/spans.ts';
import type { Claim } from '../record/claim-type.ts';
import { doublesNamed } from '../record/double-names.ts';
import { entryData } from '../record/entry-data.ts';
import type { Journal } from '../record/journal.ts';
import { fromLines } from '../record/read-lines.ts';
import { siteOf } from '../record/slip.ts';
import { type JudgedLedger, judgedData } from '../report/judged.ts';
import { makeVerdict } from '../report/verdict.ts';
import type { RuleLevels } from '../rule/rules.ts';
import { InputError } from './input-error.ts';
import { warn } from './terminal.ts';

/** How spans of several machines become one trace. */
export interface TraceOptions {
  /** Milliseconds below which the order of spans of two machines is not known. */
  readonly skew: number;
  /** Lines without a span of a trace after which it is taken to be whole. */
  readonly patience: number;
}

interface OpenTrace {
  readonly spans: Placed[];
  lastLine: number;
}

/**
 * Judges each trace of a file of spans on its own, a document a line, and keeps no more than the traces that are
 * open.
 *
 * @param tell is given the verdict of each trace, as data
 * @returns whether all traces hold
 */
export function judgeTraces(
  path: string,
  shown: string,
  claims: ClaimsText,
  levels: RuleLevels,
  { skew, patience }: TraceOptions,
  tell: (verdict: unknown) => void,
): boolean {
  const open = new Map<string, OpenTrace>();
  const services = new Set<string>();
  const claimed = new Set<string>();
  let holds = true;
  const clocks = new Clocks();
  const done = new Set<string>();
  const again = new Set<string>();
  let knowsOpen = false;
  const judge = (trace: string, { spans: given }: OpenTrace) => {
    // The first trace alone would say too little of the clocks.
    if (!knowsOpen)
      for (const { spans } of open.values())
        clocks.learn([...byIdOf(spans).values()], parentsIn(spans));
    knowsOpen = true;
    if (done.has(trace)) again.add(trace);
    done.add(trace);
    const parentOf = parentsIn(given, (circle) => {
      const names = circle.map(
        ({ double, member, span }) => `${double}.${member} (${span.spanId})`,
      );
      const said =
        circle.length === 1
          ? 'is its own parent; it is judged as if it had none'
          : 'are inside each other; the first is judged as if it had no parent';
      warn(`trace ${trace}: ${names.join(' and ')} ${said}`);
    });
    clocks.learn([...byIdOf(given).values()], parentOf);
    const spans = corrected(given, clocks.off());
    const { lines, spans: recorded } = recordOfSpans(spans, trace);
    const { journal } = fromLines(lines.join('\n'));
    const order = orderOfSpans(spans, skew);
    for (const service of doublesNamed(journal).keys()) services.add(service);
    const judged = withOrder(
      judgeJournal(journal, shown, claims, levels, { declares: true }),
      journal,
      order,
      skew,
    );
    if (judged.claims.length === 0)
      throw new InputError(`check --claims ${claims.file}: it has no claim for trace "${trace}"`);
    for (const double of doublesNamed(journal).keys()) claimed.add(double);
    holds &&= judged.verdict.holds;
    const culprits = new Set(judged.verdict.findings.flatMap((finding) => finding.culprits));
    const told = [...culprits].flatMap((entry) => {
      const placed = recorded[entry - 1];
      const delivered = given.find(({ span }) => span.spanId === placed?.span.spanId);
      return delivered === undefined ? [] : [{ entry, ...spanData(delivered) }];
    });
    tell({ trace, ...(judgedData(judged) as object), spans: told });
  };
  for (const { text, number } of linesOfFile(path)) {
    if (text.trim() === '') continue;
    for (const placed of spansOf(documentOf(text, number))) {
      const id = placed.span.traceId;
      const trace = open.get(id) ?? { spans: [], lastLine: number };
      trace.spans.push(placed);
      trace.lastLine = number;
      // Those that waited longest come first.
      open.delete(id);
      open.set(id, trace);
    }
    for (const [id, trace] of open) {
      if (number - trace.lastLine < patience) break;
      open.delete(id);
      judge(id, trace);
    }
  }
  for (const [id, trace] of open) judge(id, trace);
  if (services.size === 0)
    throw new TypeError('there are no spans in it: resourceSpans, scopeSpans, spans');
  for (const [machine, ahead] of clocks.off()) {
    const ms = Math.abs(Number(ahead)) / 1e6;
    const much = ms < 1_000 ? `${Math.round(ms)} ms` : `${(ms / 1_000).toFixed(1)} s`;
    const way = ahead > 0n ? 'ahead' : 'behind';
    warn(
      `the clock of ${machine} is ${much} ${way}, as nested spans show; its times are corrected`,
    );
  }
  if (again.size > 0)
    warn(
      `${again.size === 1 ? `trace ${[...again][0]} was` : `${again.size} traces were`} judged twice: spans of it came more than ${patience} lines later (--patience)`,
    );
  const unknown = [...claimed].filter((double) => !services.has(double));
  if (unknown.length > 0)
    warn(`no span of ${shown} belongs to ${unknown.join(', ')}, which ${claims.file} mentions`);
  return holds;
}

/** The judged ledger, except for claims that depend on an unknown order. */
function withOrder(
  judged: JudgedLedger,
  journal: Journal,
  { mayChange, apart }: SpanOrder,
  skew: number,
): JudgedLedger {
  const events = recordedEvents(journal);
  const evidence = makeEvidence(
    journal,
    () => new Set(),
    () => [],
  );
  const open = new Map<Claim, Diagnosis>();
  for (const claim of judged.claims) {
    const held = claimOf(claim);
    if (held === undefined || held.ofWhole === true) continue;
    const { between } = judgeLoosely(held, events, mayChange, evidence);
    if (between === undefined) continue;
    const moments = between.map(({ entry, end }) => ({ entry: entryData(entry), end }));
    open.set(claim, {
      code: 'undecidedOrder',
      ...aboutClaim(claim),
      culprits: moments.map(({ entry }) => entry.id),
      at: siteOf(journal, claim),
      between: moments as [Moment, Moment],
      apart: apart(...between),
      skew,
    });
  }
  if (open.size === 0) return judged;
  const rest = judged.verdict.findings.filter(({ of }) => of === undefined || !open.has(of));
  const told = { claims: judged.claims.length, closing: false };
  const findings = [...open.values(), ...rest];
  return { ...judged, verdict: makeVerdict(journal, findings, told) };
}

/** The spans of one trace in a file of spans, a document a line, as the lines of a ledger. */
export function traceLines(path: string, trace: string): readonly string[] {
  const spans: Placed[] = [];
  const others = new Set<string>();
  for (const { text, number } of linesOfFile(path)) {
    if (text.trim() === '') continue;
    for (const placed of spansOf(documentOf(text, number))) {
      if (placed.span.traceId === trace) spans.push(placed);
      else if (others.size < tracesNamed) others.add(placed.span.traceId);
    }
  }
  if (spans.length > 0) return linesOfSpans(spans, trace);
  const names = others.size === 0 ? 'it has no span at all' : `it has ${[...others].join(', ')}`;
  throw new TypeError(`there is no trace ${trace}; ${names}`);
}

/** How many of the traces that there are an error names. */
const tracesNamed = 5;

function documentOf(text: string, number: number): unknown {
  try {
    return JSON.parse(text);
  } catch {
    throw new TypeError(`line ${number} is not JSON`);
  }
}
