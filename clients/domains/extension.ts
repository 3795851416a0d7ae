import { produce } from 'immer';

/** The interface that an editor gives its extensions. */
export interface Editor {
  readonly commands: {
    register(name: string, run: (...args: unknown[]) => unknown): Disposable;
    run<T>(name: string, ...args: unknown[]): Promise<T>;
  };
  readonly window: {
    ask(question: string, ...answers: string[]): Promise<string | undefined>;
    progress<T>(
      title: string,
      task: (report: { at(part: number): void }, stop: AbortSignal) => Promise<T>,
    ): Promise<T>;
    readonly active: { readonly document: Document } | undefined;
    status: string;
  };
  readonly workspace: {
    onSave(hear: (document: Document) => unknown): Disposable;
    edit(
      document: Document,
      change: { readonly from: number; readonly to: number; readonly text: string },
    ): Promise<boolean>;
    settings<T>(section: string, otherwise: T): T;
  };
}

export interface Document {
  readonly path: string;
  text(): string;
}

interface State {
  readonly checked: Readonly<Record<string, number>>;
}

/** Checks schedules as they are saved, and puts them in order on demand. */
export class Extension implements Disposable {
  private state: State = { checked: {} };
  private readonly held: readonly Disposable[];
  private readonly editor: Editor;

  constructor(editor: Editor) {
    this.editor = editor;
    this.held = [
      editor.workspace.onSave((document) => this.check(document)),
      editor.commands.register('schedule.sort', () => this.sort()),
    ];
  }

  check({ path, text }: Document): void {
    if (!path.endsWith(this.editor.workspace.settings('schedule.ending', '.night'))) return;
    const lines = text().split('\n').length;
    this.state = produce(this.state, ({ checked }) => {
      (checked as Record<string, number>)[path] = lines;
    });
    this.editor.window.status = `${path}: ${lines} lines`;
  }

  async sort(): Promise<boolean> {
    const document = this.editor.window.active?.document;
    if (document === undefined) return false;
    if ((await this.editor.window.ask('Sort by time?', 'Sort', 'Leave')) !== 'Sort') return false;
    return await this.editor.window.progress('Sorting', async (report, stop) => {
      const text = document.text().split('\n').sort().join('\n');
      report.at(1);
      if (stop.aborted) return false;
      return await this.editor.workspace.edit(document, { from: 0, to: text.length, text });
    });
  }

  [Symbol.dispose](): void {
    for (const each of this.held) each[Symbol.dispose]();
  }
}
