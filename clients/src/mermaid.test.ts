// @vitest-environment jsdom

import { call, computes, openLedger, plan, stalls, throws } from 'ekkon';
import mermaid from 'mermaid';
import { expect, test } from 'vitest';
import { mermaidText } from '../../packages/ekkon/src/report/mermaid.ts';

test("a sequence diagram is one to Mermaid's own parser, whatever was recorded", async () => {
  const ledger = openLedger({ name: 'end; %% <b>', rules: 'loose' });
  const dome = ledger.standIn<{ say(...what: unknown[]): unknown; open(): Promise<void>; jam(): void }>('end; participant x\nloop');
  const log = ledger.callable<(...what: unknown[]) => void>('opt');
  plan(call(dome.open), stalls());
  plan(
    call(dome.say),
    computes((...what) => log(...what)),
  );
  plan(call(dome.jam), throws(new Error('jammed')));
  dome.say('end', ';#"%%{init}%%', '<script>', '\u202e\u001b[0m', { a: [1], b: 'x'.repeat(300) });
  void dome.open();
  expect(dome.jam).toThrow('jammed');
  ledger.follow((emit) => {
    emit('note over d0: x');
    return () => {};
  }, 'rain: 4');
  const text = mermaidText(ledger.name, ledger.entries());
  expect(await mermaid.parse(text)).toMatchObject({ diagramType: 'sequence' });
  expect(text.match(/->>d\d/g)).toHaveLength(4);
  await expect(mermaid.parse(`${text}\n  end`)).rejects.toThrow();
});
