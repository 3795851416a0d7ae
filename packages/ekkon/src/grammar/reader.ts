import { intrinsics } from '../value/intrinsics.ts';
import { didYouMean, nearNames } from '../value/near-names.ts';
import { NotationError } from './notation-error.ts';

const wordStart = /[\p{ID_Start}$_]/u;
const word = /[\p{ID_Start}$_][\p{ID_Continue}$]*/uy;
const text = /"(?:[^"\\\n]|\\.)*"/y;
const digits = /\d+/y;

/**
 * Reads a text of claims sign by sign. It knows blanks, comments, and where a statement ends: at a line's end,
 * unless brackets are open or the next line is indented deeper.
 */
export class Reader {
  readonly text: string;
  at = 0;
  /** Where the brackets stand that are open. */
  private opened: number[] = [];
  /** How far the line is indented on which the statement began. */
  private indent = 0;

  constructor(source: string) {
    this.text = source;
  }

  /** @throws NotationError at a place, by default the one where it is. */
  fail(why: string, at: number = this.at): never {
    throw new NotationError(this.text, at, why);
  }

  /** The line and the column of a place, from 1. */
  placeOf(at: number): { readonly line: number; readonly column: number } {
    const before = this.text.slice(0, at).split('\n');
    return { line: before.length, column: (before.at(-1)?.length ?? 0) + 1 };
  }

  /** Goes to the next statement; `false` if there is none. */
  toStatement(): boolean {
    this.opened = [];
    for (;;) {
      const start = this.at;
      const blank = /[^\S\n]*/y;
      this.match(blank);
      if (this.text[this.at] === '\n') {
        this.at++;
        continue;
      }
      if (this.isComment()) {
        this.toLineEnd();
        continue;
      }
      if (this.at >= this.text.length) return false;
      const lineStart = this.text.lastIndexOf('\n', start - 1) + 1;
      this.indent = this.at - lineStart;
      return true;
    }
  }

  /** Whether the statement is at its end. */
  isAtEnd(): boolean {
    this.skip();
    return this.at >= this.text.length || this.text[this.at] === '\n';
  }

  /** Whether the line is at its end, whatever the next one is. */
  isAtLineEnd(): boolean {
    this.match(/[^\S\n]*/y);
    if (this.isComment()) this.toLineEnd();
    return this.at >= this.text.length || this.text[this.at] === '\n';
  }

  /** Where the next sign stands. */
  next(): number {
    this.skip();
    return this.at;
  }

  /** Skips blanks and comments, as far as the statement goes. */
  skip(): void {
    for (;;) {
      this.match(/[^\S\n]*/y);
      if (this.isComment()) this.toLineEnd();
      if (this.text[this.at] !== '\n') return;
      if (this.opened.length === 0 && !this.goesOn()) return;
      this.at++;
    }
  }

  /** A comment begins at the start of a line or after a blank; `#7` is none. */
  private isComment(): boolean {
    if (this.text[this.at] !== '#' || /\d/.test(this.text[this.at + 1] ?? '')) return false;
    return this.at === 0 || /\s/.test(this.text[this.at - 1] ?? '');
  }

  private toLineEnd(): void {
    const end = this.text.indexOf('\n', this.at);
    this.at = end < 0 ? this.text.length : end;
  }

  /** Whether the next line that says something is indented deeper than the statement. */
  private goesOn(): boolean {
    const rest = /(?:\n[^\S\n]*(?:#(?!\d)[^\n]*)?(?=\n|$))*\n([^\S\n]*)(?=[^\s])/y;
    rest.lastIndex = this.at;
    const found = rest.exec(this.text);
    return found !== null && (found[1]?.length ?? 0) > this.indent;
  }

  /** Reads the match of a pattern here; the pattern is sticky. */
  match(pattern: RegExp): string | undefined {
    pattern.lastIndex = this.at;
    const found = pattern.exec(this.text);
    if (found === null) return undefined;
    this.at = pattern.lastIndex;
    return found[0];
  }

  /** Takes a sign, or the first of some, if it stands here. */
  eat(...signs: readonly string[]): string | undefined {
    this.skip();
    const found = signs.find((sign) => this.text.startsWith(sign, this.at));
    if (found === undefined) return undefined;
    if ('([{'.includes(found)) this.opened.push(this.at);
    if (')]}'.includes(found)) this.opened.pop();
    this.at += found.length;
    return found;
  }

  /** Takes a sign, which has to stand here. */
  expect(sign: string, after: string): void {
    if (this.eat(sign) !== undefined) return;
    const opened = this.opened.at(-1);
    const isBelow = opened !== undefined && this.text.slice(opened, this.at).includes('\n');
    // The next lines are likely another claim, so the open bracket is reported.
    if (isBelow)
      this.fail(`this ${this.text[opened]} is not closed: ${sign} is expected ${after}`, opened);
    this.fail(`${sign} is expected ${after}`);
  }

  /** The word that stands here, without taking it. */
  peekWord(): string | undefined {
    this.skip();
    word.lastIndex = this.at;
    return word.exec(this.text)?.[0];
  }

  /** Takes a word, any or this one. */
  eatWord(wanted?: string): string | undefined {
    const found = this.peekWord();
    if (found === undefined || (wanted !== undefined && found !== wanted)) return undefined;
    this.at += found.length;
    return found;
  }

  /** Takes one of the words that may stand here, and says which is near if it is none of them. */
  expectWord(...wanted: readonly string[]): string {
    const found = this.peekWord();
    if (found !== undefined && wanted.includes(found)) {
      this.at += found.length;
      return found;
    }
    const [near] = found === undefined ? [] : nearNames(found, wanted);
    const list = wanted.length === 1 ? wanted[0] : `one of ${wanted.join(', ')}`;
    return this.fail(
      near === undefined
        ? `${list} is expected`
        : `there is no ${found} here; ${didYouMean(near, found ?? '')}`,
    );
  }

  /** Takes a text in double quotes. */
  eatText(): string | undefined {
    this.skip();
    const start = this.at;
    const found = this.match(text);
    if (found === undefined) {
      if (this.text[this.at] === '"') this.fail('this text has no end: " is missing on its line');
      return undefined;
    }
    try {
      return intrinsics.parse(found);
    } catch {
      return this.fail('this text has an escape that JSON does not know', start);
    }
  }

  eatDigits(): string | undefined {
    return this.match(digits);
  }

  /** Whether a word begins right here, without a blank between. */
  isAtWord(): boolean {
    return wordStart.test(this.text[this.at] ?? '');
  }
}
