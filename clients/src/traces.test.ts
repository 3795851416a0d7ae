import { spawnSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { ClaimError, check } from 'ekkon';
import { expect, test } from 'vitest';
import { parseClaims } from '../../packages/ekkon/src/claims.ts';
import { loadLedger } from '../../packages/ekkon/src/file/index.ts';

/** One process of the service: it makes spans with the SDK of OpenTelemetry, in a context handed on from another. */
const service = `
import { context, propagation, SpanStatusCode, trace } from '@opentelemetry/api';
import { resourceFromAttributes } from '@opentelemetry/resources';
import { BasicTracerProvider, InMemorySpanExporter, SimpleSpanProcessor } from '@opentelemetry/sdk-trace-base';
import { JsonTraceSerializer } from '@opentelemetry/otlp-transformer';
import { setTimeout } from 'node:timers/promises';
const [name, parent, ...steps] = process.argv.slice(1);
const memory = new InMemorySpanExporter();
const provider = new BasicTracerProvider({ resource: resourceFromAttributes({ 'service.name': name }), spanProcessors: [new SimpleSpanProcessor(memory)] });
const tracer = provider.getTracer('made up');
const outer = parent === '-' ? context.active() : trace.setSpanContext(context.active(), JSON.parse(parent));
let first;
for (const step of steps) {
  const [title, seconds, fails] = step.split(':');
  const span = tracer.startSpan(title, { attributes: { seconds: Number(seconds), filter: 'red' } }, outer);
  first ??= span.spanContext();
  await setTimeout(2);
  if (fails) span.setStatus({ code: SpanStatusCode.ERROR, message: fails });
  span.end();
}
const spans = new TextDecoder().decode(JsonTraceSerializer.serializeRequest(memory.getFinishedSpans()));
console.log(JSON.stringify({ first, spans: JSON.parse(spans) }));
`;

function run(name: string, parent: unknown, ...steps: readonly string[]) {
  const { stdout, stderr } = spawnSync(
    process.execPath,
    ['--input-type=module', '--eval', service, name, parent === undefined ? '-' : JSON.stringify(parent), ...steps],
    { cwd: fileURLToPath(new URL('.', import.meta.url)), encoding: 'utf8' },
  );
  if (stdout === '') throw new Error(stderr);
  return JSON.parse(stdout) as { readonly first: unknown; readonly spans: object };
}

test('claims hold against the spans of three processes, and do not', () => {
  const desk = run('desk', undefined, 'book:1');
  const dome = run('dome', desk.first, 'open:2');
  const archive = run('archive', dome.first, 'store:30', 'store:60', 'index:1:the index is full');
  const folder = mkdtempSync(join(tmpdir(), 'ekkon-traces-'));
  const [spans, ledger] = [join(folder, 'spans.jsonl'), join(folder, 'night.jsonl')];
  writeFileSync(spans, [archive, desk, dome].map((each) => `${JSON.stringify(each.spans)}\n`).join(''));
  const cli = fileURLToPath(new URL('../../packages/ekkon/dist/cli.js', import.meta.url));
  const { stderr, status } = spawnSync(process.execPath, [cli, 'convert', spans, '--to', 'ledger', '-o', ledger], { encoding: 'utf8' });
  expect([stderr, status]).toEqual(['', 0]);
  const night = loadLedger(ledger);
  expect(night.entries().map(({ label, parent }) => [label, parent])).toEqual([
    ['desk.book', undefined],
    ['dome.open', 1],
    ['archive.store', 2],
    ['archive.store', 2],
    ['archive.index', 2],
  ]);
  check(
    parseClaims(
      `in turn desk.book › dome.open › 2 archive.store({ seconds: anything, filter: "red" })
rejected archive.index only after fulfilled archive.store
once rejected archive.index with "the index is full"
times 1..* archive.store(partial({ seconds: 30 }))`,
      night,
    ),
  );
  expect(() => check(parseClaims('once archive.store({ seconds: 31, filter: "red" })', night))).toThrow(
    /\[0\]\.seconds expected 31, received (30|60)/,
  );
  expect(() => check(parseClaims('dome.open only after archive.store', night))).toThrow(ClaimError);
});
