import { spawnSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { describe, expect, test } from 'vitest';
import { ekkon } from './command.ts';
import { cli, savedNight } from './saved-night.ts';
import { type GivenSpan, spanLine } from './span-line.ts';

const { at } = savedNight();

describe('ekkon check --by trace', () => {
  /** Spans of 60 traces, each of three services, mixed; every seventh one stores before it opens. */
  const spans = () =>
    ['dome.open', 'camera.expose', 'archive.store'].flatMap((is, place) =>
      Array.from({ length: 60 }, (_, trace) => {
        const from = 1_000 + 20 * (trace % 7 === 0 ? 2 - place : place);
        return spanLine({ trace: `t${trace}`, id: `s${place}`, is, from, to: from + 0.5, attributes: { seconds: trace } });
      }),
    );
  const verdicts = (out: string) =>
    out
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line))
      .map(({ ledger, holds }) => `${ledger} ${holds}`)
      .sort();
  const expected = Array.from({ length: 60 }, (_, trace) => `t${trace} ${trace % 7 !== 0}`).sort();
  const prepare = () => {
    writeFileSync(at('traces.claims'), 'in turn dome.open › camera.expose › archive.store\nnever alarm.sound\n');
    writeFileSync(at('traces.jsonl'), spans().join('\n'));
  };

  test('the order of what two machines did nearly at once is undecided, unless they say which came first', () => {
    const start = 1_700_000_000_000;
    const span = (host: string, is: string, from: number, more: Partial<GivenSpan> = {}) =>
      spanLine({ trace: 'aa', id: is, is, host, from: start + from, to: start + from + 1, ...more });
    const judged = (skew: readonly string[], ...lines: readonly string[]) => {
      writeFileSync(at('skew.jsonl'), lines.join('\n'));
      const { code, out } = ekkon('check', at('skew.jsonl'), '--by', 'trace', '--rules', 'loose', '--claims', at('skew.claims'), ...skew);
      return [code, JSON.parse(out).findings.map(({ code: found, message }: { code: string; message: string }) => [found, message])];
    };
    writeFileSync(at('skew.claims'), 'in turn camera.expose › archive.store\nonce archive.store\n');
    const expose = span('a', 'camera.expose', 0);
    const said =
      'it depends on the order of #1 camera.expose and #2 archive.store, which is not known: they are 3 ms apart on two machines, and less than 10 ms says nothing (--skew)';
    expect(judged([], expose, span('b', 'archive.store', 3))).toEqual([1, [['undecidedOrder', said]]]);
    for (const [skew, store] of [
      [['--skew', '2'], span('b', 'archive.store', 3)],
      [[], span('b', 'archive.store', 10)],
      [[], span('a', 'archive.store', 3)],
      [[], span('b', 'archive.store', -3, { parent: 'camera.expose' })],
      [[], span('b', 'archive.store', -3, { link: 'camera.expose' })],
    ] as const)
      expect(judged(skew, expose, store)).toEqual([0, []]);
    expect(ekkon('check', at('skew.jsonl'), '--by', 'trace', '--claims', at('skew.claims'), '--skew', 'much').err).toMatch(
      /^ekkon: --skew much: it must be milliseconds, 0 or more/,
    );
  });

  test('spans that come twice are one, those that are inside of each other are named, and late ones are told', () => {
    const span = (trace: string, id: string, name: string, parent?: string) =>
      spanLine({ trace, id, is: `dome.${name}`, parent, from: Number(id), to: Number(id) + 0.5 });
    const open = span('twice', '1', 'open');
    const odd = [span('itself', '1', 'open', '1'), span('circle', '1', 'open', '2'), span('circle', '2', 'close', '1')];
    writeFileSync(
      at('odd.jsonl'),
      [open, open, span('twice', '2', 'close', '1'), ...odd, span('other', '1', 'open'), span('twice', '3', 'close')].join('\n'),
    );
    writeFileSync(at('odd.claims'), 'once dome.open\n');
    const { code, out, err } = ekkon('check', at('odd.jsonl'), '--by', 'trace', '--rules', 'loose', '--patience', '2', '--claims', at('odd.claims'));
    expect([code, verdicts(out)]).toEqual([1, ['circle true', 'itself true', 'other true', 'twice false', 'twice true']]);
    expect(err.split('\n').filter((line) => line !== '')).toEqual([
      'ekkon: trace itself: dome.open (1) is its own parent; it is judged as if it had none',
      'ekkon: trace circle: dome.open (1) and dome.close (2) are inside each other; the first is judged as if it had no parent',
      'ekkon: trace twice was judged twice: spans of it came more than 2 lines later (--patience)',
    ]);
  });

  test('judges each trace on its own, from a file and from standard input', () => {
    prepare();
    const { code, out, err } = ekkon('check', at('traces.jsonl'), '--by', 'trace', '--rules', 'usual', '--claims', at('traces.claims'));
    expect([code, verdicts(out)]).toEqual([1, expected]);
    expect(err).toMatch(/no span of .* belongs to alarm, which .*traces\.claims mentions/);
    const piped = spawnSync(process.execPath, [cli, 'check', '-', '--by', 'trace', '--rules', 'usual', '--claims', at('traces.claims')], {
      input: spans().join('\n'),
      encoding: 'utf8',
    });
    expect(verdicts(piped.stdout)).toEqual(expected);
  });

  const hasParallel = spawnSync('parallel', ['--version']).status === 0;
  if (!hasParallel && process.env['CI'] === 'true') throw new Error('GNU parallel is not installed (apt-get install parallel), and CI needs it');
  test.runIf(hasParallel)('says the same over eight shards that an engine runs', { timeout: 120_000 }, () => {
    prepare();
    const shards = Array.from({ length: 8 }, (_, shard) => {
      const path = at(`shard${shard}.jsonl`);
      const own = spans().filter((line) => Number(/"traceId":"t(\d+)"/.exec(line)?.[1]) % 8 === shard);
      writeFileSync(path, own.join('\n'));
      return path;
    });
    const run = spawnSync(
      'parallel',
      [
        '--will-cite',
        '-j',
        '4',
        `cat {} | ${process.execPath} ${cli} check - --by trace --rules usual --claims ${at('traces.claims')}`,
        ':::',
        ...shards,
      ],
      { encoding: 'utf8' },
    );
    expect(verdicts(run.stdout)).toEqual(expected);
  });
});
