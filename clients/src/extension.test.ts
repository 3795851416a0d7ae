import { anything, call, check, computes, fulfils, gives, inTurn, type Ledger, never, once, plan, reads, writes } from 'ekkon';
import { test } from 'ekkon/vitest';
import { describe, expect } from 'vitest';
import { type Document, type Editor, Extension } from '../domains/extension.ts';

/** An extension in an editor of which all is stood in for; what it registered can be called. */
function opened(ledger: Ledger, text = '22:00 Vey\n21:00 Tamsel') {
  const editor = ledger.standIn<Editor>('editor');
  const document = ledger.standIn<Document>('document', { path: 'a.night', text: () => text });
  const { subscription, registration } = ledger.standIns<{ subscription: Disposable; registration: Disposable }>();
  plan(call(editor.workspace.onSave), gives(subscription));
  plan(call(editor.commands.register), gives(registration));
  plan(
    call(editor.workspace.settings),
    computes((_, otherwise) => otherwise),
  );
  const extension = new Extension(editor);
  const [save] = ledger.entries(call(editor.workspace.onSave));
  const [sort] = ledger.entries(call(editor.commands.register, ['schedule.sort', anything]));
  if (save === undefined || sort === undefined) throw new Error('it registers nothing');
  return { editor, document, extension, subscription, registration, save: save.liveArgs[0], sort: sort.liveArgs[1] };
}

describe('an extension of an editor', () => {
  test('checks a schedule that is saved, and no other file', ({ ledger }) => {
    const { editor, document, save } = opened(ledger);
    save(ledger.standIn<Document>('notes', { path: 'notes.txt', text: () => '' }));
    check(never(writes(editor.window, 'status')));
    save(document);
    check(once(writes(editor.window, 'status', 'a.night: 2 lines')), once(call(document.text)));
  });

  const answers = [
    ['Sort', true],
    ['Leave', false],
    [undefined, false],
  ] as const;
  test.for(answers)('sorts if the answer is %s: %s', async ([answer, isSorted], { ledger }) => {
    const { editor, document, sort } = opened(ledger);
    const report = ledger.standIn<{ at(part: number): void }>('report');
    plan(reads(editor.window, 'active'), gives({ document }));
    plan(call(editor.window.ask), fulfils(answer));
    plan(
      call(editor.window.progress),
      computes((_, task) => task(report, new AbortController().signal)),
    );
    plan(call(editor.workspace.edit), fulfils(true));
    expect(await sort()).toBe(isSorted);
    const sorted = { from: 0, to: 22, text: '21:00 Tamsel\n22:00 Vey' };
    check(once(call(editor.window.ask, ['Sort by time?', 'Sort', 'Leave'])));
    if (isSorted) check(inTurn(call(report.at, [1]), call(editor.workspace.edit, [document, sorted])));
    else check(never(call(editor.workspace.edit)));
  });

  test('does nothing without a document', async ({ ledger }) => {
    const { editor, sort } = opened(ledger);
    plan(reads(editor.window, 'active'), gives(undefined));
    expect(await sort()).toBe(false);
    check(never(call(editor.window.ask)), once(reads(editor.window, 'active')));
  });

  test('lets go of what it registered', ({ ledger }) => {
    const { extension, subscription, registration } = opened(ledger);
    {
      using running = extension;
      expect(running).toBe(extension);
    }
    check(inTurn(call(subscription[Symbol.dispose]), call(registration[Symbol.dispose])));
  });
});
