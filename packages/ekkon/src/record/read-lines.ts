import { makeDecoder } from '../value/decode.ts';
import { intrinsics } from '../value/intrinsics.ts';
import type { Json } from '../value/json.ts';
import { noteBody } from './bodies.ts';
import type { Site } from './call-site.ts';
import { platformClock } from './clock.ts';
import { type DoubleKind, doubleKinds, doublesNamed, doublesShown } from './double-names.ts';
import type { Entry, EntryKind, Outcome } from './entry.ts';
import {
  endEntry,
  type HeldEntry,
  type Journal,
  makeEntry,
  openJournal,
  pendEntry,
  placeMark,
} from './journal.ts';
import { formatVersion, type Line } from './lines.ts';
import { type HeldMark, makeMark } from './mark.ts';
import { type Target, targetCalled } from './target.ts';

/** An entry read from a file: its original arguments are gone, its copies are there. */
export type LoadedEntry = Omit<Entry, 'liveArgs'>;

/** The content of a line. */
export type Told =
  | { readonly is: 'begins' | 'ends'; readonly entry: HeldEntry }
  | { readonly is: 'mark'; readonly mark: HeldMark }
  | undefined;

/**
 * Reads the lines of a record one after the other into a journal. It keeps only the journal, and calls that have not
 * ended.
 */
export class LineReader {
  readonly journal: Journal;
  private readonly decodeTagged: (json: Json) => unknown;
  private isPlain = false;
  private readonly open = new Map<number, HeldEntry>();
  private readonly targets = new Map<string, Target>();
  private readonly keeps: boolean;
  private last = 0;
  /** Whether the closing line was read: a record without it was cut off. */
  isClosed = false;

  /**
   * @param header the first line
   * @param again a journal that knows the doubles and the marks already: entries are read into it and not kept,
   * so that the memory it takes does not grow with the record
   * @throws TypeError if it is not a header, or of a newer version
   */
  constructor(header: string, again?: Journal) {
    const { name, openedAt } = readHeader(header);
    this.keeps = again === undefined;
    this.journal =
      again ?? openJournal({ name, callSites: 0, reveals: [], clock: platformClock, openedAt });
    this.decodeTagged = makeDecoder(doublesShown(this.journal));
  }

  /**
   * Reads one more line.
   *
   * @param number its number in the file, from 1
   * @throws TypeError if it is none, with the line and the problem
   */
  take(text: string, number: number): Told {
    // Values without a tag are plain JSON; a long line may be nested too deeply to check.
    this.isPlain = text.length < longestPlain && !text.includes('"$"');
    try {
      return this.read(parse(text));
    } catch (error) {
      const why =
        error instanceof RangeError
          ? 'it is nested too deeply'
          : error instanceof Error
            ? error.message
            : String(error);
      throw new TypeError(`line ${number} is not an event of a ledger: ${why}`);
    }
  }

  private decode(json: Json): unknown {
    return this.isPlain ? json : this.decodeTagged(json);
  }

  /** Whether a line is whole: the last one may have been cut off. */
  static isWhole(text: string): boolean {
    return parse(text) !== undefined;
  }

  private read(line: Line | undefined): Told {
    if (line === undefined) throw new TypeError('not an object in JSON');
    if (this.isClosed) throw new TypeError('it stands behind the closing line');
    if (line['closes'] !== undefined) return this.readClosing(line);
    if (line['double'] !== undefined) return this.readDouble(line);
    if (line['pends'] !== undefined) {
      pendEntry(this.opened(wholeNumber(line, 'pends'), 'is pending'));
      return undefined;
    }
    const tick = wholeNumber(line, 'tick');
    if (tick <= this.journal.tick)
      throw new TypeError(`tick ${tick} comes after tick ${this.journal.tick}`);
    if (line['mark'] !== undefined) return this.readMark(line, tick);
    return line['begins'] === undefined ? this.readEnd(line, tick) : this.readBeginning(line, tick);
  }

  private readClosing({ entries }: Line): undefined {
    if (entries !== this.last)
      throw new TypeError(
        `the record has ${intrinsics.stringify(entries ?? null)} entries, and ${this.last} were read`,
      );
    this.isClosed = true;
  }

  private readDouble({ double, is }: Line): undefined {
    if (typeof double !== 'string' || !doubleKinds.includes(is as DoubleKind))
      throw new TypeError(`"double" is its name, and "is" one of ${doubleKinds.join(', ')}`);
    doublesNamed(this.journal).set(double, is as DoubleKind);
  }

  private readMark({ mark }: Line, tick: number): Told {
    if (mark !== null && typeof mark !== 'string')
      throw new TypeError('"mark" is its label, a text, or null');
    const { journal } = this;
    const known = this.keeps ? undefined : journal.marks.find((mark) => mark.tick === tick);
    journal.tick = tick;
    if (known !== undefined) return { is: 'mark', mark: known };
    journal.tick = tick - 1;
    const label = mark ?? undefined;
    const held = placeMark(journal, (at) => makeMark(journal, at, label));
    return { is: 'mark', mark: held };
  }

  private readBeginning(line: Line, tick: number): Told {
    const { args, on, during, site, pending, by, kind = 'call' } = line;
    const { journal } = this;
    const id = wholeNumber(line, 'begins');
    if (id !== this.last + 1)
      throw new TypeError(`entry #${id} begins where #${this.last + 1} is expected`);
    const held = this.decode(args ?? null);
    if (!Array.isArray(held)) throw new TypeError('"args" must be a list');
    if (!kinds.has(kind as EntryKind))
      throw new TypeError(
        `"kind" is ${intrinsics.stringify(kind)}, and must be ${[...kinds].join(', ')}`,
      );
    if (during !== undefined && !(Number.isInteger(during) && Number(during) < id))
      throw new TypeError('"during" must be the number of an earlier entry');
    const entry = makeEntry(
      journal,
      {
        id,
        target: this.targetOf(line),
        kind: kind as EntryKind,
        args: held,
        receiver: on === undefined ? undefined : this.decodeTagged({ $: 'shown', as: on }),
        began: tick,
        beganAt: wholeNumber(line, 'at') - journal.openedAt,
        parent: during as number | undefined,
      },
      site === undefined ? undefined : { site: readSavedSite(site) },
      readAnswer(by),
    );
    if (pending === true) pendEntry(entry);
    this.last = id;
    if (this.keeps) journal.entries.push(entry);
    this.open.set(id, entry);
    return { is: 'begins', entry };
  }

  private targetOf({ label, of }: Line): Target {
    if (typeof label !== 'string') throw new TypeError('"label" must be a text');
    const known = this.targets.get(label);
    if (known !== undefined) return known;
    if (!Array.isArray(of) || typeof of[0] !== 'string')
      throw new TypeError('"of" must be the double\'s name and the keys that lead to the member');
    const [double, ...path] = of as unknown as readonly [string, ...Json[]];
    const keys = path.map((key) => {
      const held = this.decode(key);
      return typeof held === 'symbol' ? held : String(held);
    });
    const target = targetCalled(this.journal, label, double, keys);
    this.targets.set(label, target);
    const doubles = doublesNamed(this.journal);
    if (!doubles.has(double)) doubles.set(double, 'stand-in');
    return target;
  }

  private readEnd(line: Line, tick: number): Told {
    const id = wholeNumber(line, 'ends');
    const entry = this.opened(id, 'ends');
    const answer = readAnswer(line['by']);
    const at = wholeNumber(line, 'at') - this.journal.openedAt;
    endEntry(this.journal, entry, {
      tick,
      at,
      outcome: readOutcome(line, (json) => this.decode(json)),
    });
    if (answer !== undefined) entry.more = { ...(entry.more ?? nothingMore), answer };
    if (line['body'] !== undefined) noteBody(entry, this.decode(line['body']));
    this.open.delete(id);
    return { is: 'ends', entry };
  }

  private opened(id: number, does: string): HeldEntry {
    const entry = this.open.get(id);
    if (entry !== undefined) return entry;
    const isKnown = id <= this.last;
    throw new TypeError(
      `entry #${id} ${does}, and ${isKnown ? 'has ended before' : 'never began'}`,
    );
  }
}

/** Characters of a line that is taken as it is. */
const longestPlain = 1_000;

const nothingMore = {
  captured: undefined,
  answer: undefined,
  resultCopies: undefined,
  unfollowed: undefined,
  endedAt: undefined,
};

const kinds: ReadonlySet<EntryKind> = new Set([
  'call',
  'construct',
  'read',
  'write',
  'item',
  'end',
  'failure',
]);

/** The kind of a line, with the number of an entry's beginning or end; `undefined` for the header and for other lines. */
export type LineKind =
  | { readonly is: 'begins' | 'ends'; readonly id: number }
  | { readonly is: 'double' | 'mark' | 'pends' | 'closes' }
  | undefined;

/** Tells the kind of a line: without parsing it if it is written as Ekkon writes it, otherwise for any order of keys. */
export function kindOfLine(text: string): LineKind {
  const [, event, id] = /^\{"tick":\d+,"(begins|ends)":(\d+),/.exec(text) ?? [];
  if (event !== undefined) return { is: event as 'begins' | 'ends', id: Number(id) };
  const line = parse(text);
  if (line === undefined) return undefined;
  for (const is of ['begins', 'ends'] as const) {
    const number = line[is];
    if (typeof number === 'number') return { is, id: number };
  }
  const is = (['double', 'mark', 'pends', 'closes'] as const).find((key) => key in line);
  return is === undefined ? undefined : { is };
}

/** A record read back, and whether it was cut off. */
export interface ReadRecord {
  readonly journal: Journal;
  readonly truncated: boolean;
}

/**
 * Reads a whole record back. A last line that was cut off is left out. If the closing line is missing, `truncated` says so.
 *
 * @throws TypeError if the text is no such record, naming the line that is wrong
 */
export function fromLines(text: string): ReadRecord {
  const lines = text.split(/\r?\n/);
  if (lines[lines.length - 1] === '') lines.pop();
  const reader = new LineReader(lines[0] ?? '');
  for (let at = 1; at < lines.length; at++) {
    const line = lines[at] ?? '';
    if (at === lines.length - 1 && !LineReader.isWhole(line))
      return { journal: reader.journal, truncated: true };
    reader.take(line, at + 1);
  }
  return { journal: reader.journal, truncated: !reader.isClosed };
}

function readHeader(text: string): { readonly name: string; readonly openedAt: number } {
  const header = parse(text);
  if (header?.['ekkon'] !== 'ledger') {
    throw new TypeError(
      'this is not a ledger file: its first line is not the header {"ekkon":"ledger", …} that saveLedger writes',
    );
  }
  const { version, name, opened = 0 } = header;
  if (typeof version !== 'number' || version > formatVersion) {
    throw new TypeError(
      `this ledger file has version ${intrinsics.stringify(version)} and only versions up to ${formatVersion} can be read: use a newer ekkon`,
    );
  }
  return {
    name: typeof name === 'string' && name !== '' ? name : 'unnamed',
    openedAt: Number.isInteger(opened) ? Number(opened) : 0,
  };
}

function parse(text: string): Line | undefined {
  try {
    const value: unknown = intrinsics.parse(text);
    return typeof value === 'object' && value !== null && !Array.isArray(value)
      ? (value as Line)
      : undefined;
  } catch {
    return undefined;
  }
}

function readSavedSite(json: Json): Site {
  const [file, line, column] = Array.isArray(json) ? json : [];
  if (typeof file !== 'string' || !Number.isInteger(line) || !Number.isInteger(column))
    throw new TypeError('"site" must be a file, a line and a column');
  return { file, line: Number(line), column: Number(column) };
}

function readAnswer(json: Json | undefined): { plan: string; reply: string } | undefined {
  return Array.isArray(json) ? { plan: String(json[0]), reply: String(json[1]) } : undefined;
}

function readOutcome(line: Line, decode: (json: Json) => unknown): Outcome {
  const { state, value = null, reason = null } = line;
  switch (state) {
    case 'returned':
    case 'fulfilled':
      return { state, value: decode(value) };
    case 'threw':
    case 'rejected':
      return { state, reason: decode(reason) };
    default:
      throw new TypeError(
        `"state" is ${intrinsics.stringify(state)}, and must be returned, threw, fulfilled or rejected`,
      );
  }
}

function wholeNumber(line: Line, key: string): number {
  const value = line[key];
  if (!Number.isSafeInteger(value))
    throw new TypeError(`"${key}" is ${intrinsics.stringify(value)}, and must be a whole number`);
  return value as number;
}
