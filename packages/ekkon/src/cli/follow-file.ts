import { closeSync, fstatSync, openSync, readSync, type Stats, statSync } from 'node:fs';
import { setTimeout } from 'node:timers/promises';
import { LineSplitter } from '../file/line-splitter.ts';
import { printCall } from '../notation/call.ts';
import type { HeldEntry } from '../record/journal.ts';
import { LineReader } from '../record/read-lines.ts';
import { printMark } from '../report/lanes.ts';
import { printSite } from '../report/places.ts';
import { printEnding } from '../report/summary-text.ts';
import { nearNames } from '../value/near-names.ts';
import { inputProblem } from './input-problem.ts';
import { isNamed, shownEntry } from './shown-entry.ts';
import { paint, print, warn } from './terminal.ts';

interface FollowOptions {
  readonly member?: string;
  readonly limit?: number;
}

/** Milliseconds between two looks at a file that is being written. */
const pause = 100;

/**
 * Prints each entry of a file as it ends, and keeps reading as the file grows. A call that is still under way when
 * something else happens, or when nothing more comes, is printed as it stands, and again when it ends.
 */
export async function follow(file: string, options: FollowOptions): Promise<void> {
  const { limit = Number.POSITIVE_INFINITY } = options;
  const shown = new Shown(file, options);
  try {
    for await (const news of newsOf(file)) {
      shown.take(news);
      if (shown.ended >= limit) return;
    }
  } catch (error) {
    throw inputProblem('show --follow', file, error);
  }
}

/** What happens to a file: a whole line is written, nothing comes for a while, another file takes its place. */
type News =
  | { readonly is: 'line'; readonly text: string }
  | { readonly is: 'idle' }
  | { readonly is: 'replaced' };

/** Prints the content of a file's lines. */
class Shown {
  /** How many entries were printed with how they ended. */
  ended = 0;
  private reader: LineReader | undefined;
  private number = 0;
  /** The last entry that began, if nothing has been printed of it. */
  private begun: HeldEntry | undefined;
  private readonly labels = new Set<string>();
  private isMissed: boolean;
  private readonly file: string;
  private readonly member: string | undefined;

  constructor(file: string, { member }: FollowOptions) {
    this.file = file;
    this.member = member;
    this.isMissed = member !== undefined;
  }

  take(news: News): void {
    if (news.is === 'line') this.takeLine(news.text);
    else this.tellBegun();
    if (news.is === 'idle') this.tellMissed();
    if (news.is === 'replaced') {
      warn(`${this.file} was replaced; reading the new file`);
      this.reader = undefined;
    }
  }

  private takeLine(text: string): void {
    if (this.reader === undefined) {
      this.reader = new LineReader(text);
      this.number = 1;
      return;
    }
    const told = this.reader.take(text, ++this.number);
    if (told?.is === 'ends') {
      if (this.begun === told.entry) this.begun = undefined;
      else this.tellBegun();
      if (this.tell(told.entry)) this.ended++;
      return;
    }
    this.tellBegun();
    if (told?.is === 'begins') this.begun = told.entry;
    else if (told?.is === 'mark' && this.member === undefined)
      print(paint('faint', printMark(told.mark)));
  }

  /** Prints the last entry that began, if it has not ended. */
  private tellBegun(): void {
    if (this.begun !== undefined) this.tell(this.begun);
    this.begun = undefined;
  }

  /** Prints an entry as it stands, if it is to be shown. */
  private tell(held: HeldEntry): boolean {
    const entry = shownEntry(held);
    this.labels.add(entry.label);
    if (this.member !== undefined && !isNamed(held, this.member)) return false;
    this.isMissed = false;
    print(
      `#${String(entry.id).padEnd(5)} ${printCall(entry)}   ${paint('faint', `${printEnding(entry)}   ${printSite(entry.site)}`)}`,
    );
    return true;
  }

  /** Says once which name may have been meant, if nothing goes by the one that was given. */
  private tellMissed(): void {
    const near = nearNames(this.member ?? '', [...this.labels]);
    if (!this.isMissed || near.length === 0) return;
    this.isMissed = false;
    warn(
      `show --member ${this.member}: nothing in ${this.file} goes by that name so far; near it is ${near.join(', ')}`,
    );
  }
}

/** The additions to a file, without an end. */
async function* newsOf(file: string): AsyncGenerator<News> {
  const buffer = Buffer.alloc(1 << 16);
  for (;;) {
    const opened = openSync(file, 'r');
    const splitter = new LineSplitter();
    let position = 0;
    try {
      for (;;) {
        const read = readSync(opened, buffer, 0, buffer.length, null);
        position += read;
        for (const text of splitter.take(buffer.subarray(0, read))) yield { is: 'line', text };
        if (read > 0) continue;
        if (isReplaced(fstatSync(opened), file, position)) break;
        yield { is: 'idle' };
        await setTimeout(pause);
      }
    } finally {
      closeSync(opened);
    }
    yield { is: 'replaced' };
  }
}

/**
 * Whether another file stands at the path, or the part that was read of this one is gone. While there is no file,
 * nothing is replaced.
 */
function isReplaced(opened: Stats, file: string, position: number): boolean {
  const now = statSync(file, { throwIfNoEntry: false });
  return now?.isFile() === true && (now.ino !== opened.ino || now.size < position);
}
