import type { Site } from './call-site.ts';
import { makeDecoder } from './decode.ts';
import { encode, type Json, type ShowValue } from './encode.ts';
import type { Entry, EntryKind, Outcome } from './entry.ts';

/** The version of the format that is written; older ones are read too, newer ones are refused. */
export const formatVersion = 1;

/** An entry as it was read from a file: what was passed is gone, and its copies are there. */
export type LoadedEntry = Omit<Entry, 'liveArgs'>;

/** A record read back from its lines. */
export interface LoadedLedger {
  /** The ledger's name. */
  readonly name: string;
  /** Every entry in order, as far as the lines go. */
  entries(): readonly LoadedEntry[];
  /** Whether the last line was cut off, as it is if a process is killed; it is left out then. */
  readonly truncated: boolean;
}

/** What a record needs in order to be written. */
export interface Recorded {
  readonly name: string;
  entries(): readonly LoadedEntry[];
}

/** How values and files are shown in the lines. */
export interface LineOptions {
  readonly show: ShowValue;
  /** A call site's file as it is to be written. Default: as recorded. */
  readonly fileOf?: (file: string) => string;
}

/**
 * Writes a record as JSON Lines: a header, then an event a line in the order of their ticks. Each line
 * is without its line break.
 */
export function toLines(ledger: Recorded, options: LineOptions): readonly string[] {
  const header = { ekkon: 'ledger', version: formatVersion, name: ledger.name };
  const events = ledger
    .entries()
    .flatMap((entry) => [beginning(entry, options), ...ending(entry, options)]);
  events.sort((one, other) => Number(one['tick']) - Number(other['tick']));
  return [header, ...events].map((line) => JSON.stringify(line));
}

type Line = { readonly [key: string]: Json };

function beginning(entry: LoadedEntry, { show, fileOf = (file) => file }: LineOptions): Line {
  const { began, id, label, double, member, kind, args, receiver, site, parent, outcome } = entry;
  const { answer, at } = entry;
  return {
    tick: began,
    begins: id,
    label,
    of: [double, member],
    kind,
    at: at.began,
    args: encode(args, show),
    ...(receiver === undefined ? {} : { on: show(receiver) }),
    ...(parent === undefined ? {} : { during: parent }),
    ...(site === undefined ? {} : { site: [fileOf(site.file), site.line, site.column] }),
    ...(outcome.state === 'pending' ? { pending: true } : {}),
    ...(answer === undefined ? {} : { by: [answer.plan, answer.reply] }),
  };
}

function ending({ id, ended, outcome, at }: LoadedEntry, { show }: LineOptions): readonly Line[] {
  if (ended === undefined) return [];
  const end = { tick: ended, ends: id, at: at.ended ?? at.began };
  switch (outcome.state) {
    case 'returned':
    case 'fulfilled':
      return [{ ...end, state: outcome.state, value: encode(outcome.value, show) }];
    case 'threw':
    case 'rejected':
      return [{ ...end, state: outcome.state, reason: encode(outcome.reason, show) }];
    case 'running':
    case 'pending':
      return [];
  }
}

/**
 * Reads a record back. A last line that was cut off is left out, and `truncated` says so.
 *
 * @throws TypeError if the text is no such record, naming the line that is wrong
 */
export function fromLines(text: string): LoadedLedger {
  const lines = text.split(/\r?\n/);
  if (lines[lines.length - 1] === '') lines.pop();
  const name = readHeader(lines[0]);
  const decode = makeDecoder();
  const entries = new Map<number, LoadedEntry>();
  let truncated = false;
  for (let at = 1; at < lines.length; at++) {
    const line = parse(lines[at] ?? '');
    if (line === undefined && at === lines.length - 1) {
      truncated = true;
      break;
    }
    try {
      readEvent(entries, line, decode);
    } catch (error) {
      throw new TypeError(
        `line ${at + 1} is not an event of a ledger: ${error instanceof Error ? error.message : error}`,
      );
    }
  }
  const ordered = [...entries.values()];
  return { name, entries: () => ordered, truncated };
}

function readHeader(text: string | undefined): string {
  const header = parse(text ?? '');
  if (header?.['ekkon'] !== 'ledger') {
    throw new TypeError(
      'this is not a ledger file: its first line is not the header {"ekkon":"ledger", …} that saveLedger writes',
    );
  }
  const version = header['version'];
  if (typeof version !== 'number' || version > formatVersion) {
    throw new TypeError(
      `this ledger file has version ${JSON.stringify(version)} and only versions up to ${formatVersion} can be read: use a newer ekkon`,
    );
  }
  return typeof header['name'] === 'string' ? header['name'] : 'unnamed';
}

function parse(text: string): Line | undefined {
  try {
    const value: unknown = JSON.parse(text);
    return typeof value === 'object' && value !== null && !Array.isArray(value)
      ? (value as Line)
      : undefined;
  } catch {
    return undefined;
  }
}

function readEvent(
  entries: Map<number, LoadedEntry>,
  line: Line | undefined,
  decode: (json: Json) => unknown,
): void {
  if (line === undefined) throw new TypeError('not an object in JSON');
  const tick = wholeNumber(line, 'tick');
  if (line['begins'] !== undefined) {
    const id = wholeNumber(line, 'begins');
    entries.set(id, readBeginning(line, id, tick, decode));
    return;
  }
  const id = wholeNumber(line, 'ends');
  const entry = entries.get(id);
  if (entry === undefined) throw new TypeError(`entry #${id} ends, and never began`);
  const at = { began: entry.at.began, ended: wholeNumber(line, 'at') };
  entries.set(id, { ...entry, at, ended: tick, outcome: readOutcome(line, decode) });
}

function readBeginning(
  line: Line,
  id: number,
  began: number,
  decode: (json: Json) => unknown,
): LoadedEntry {
  const { label, of, args, on, during, site, pending, by } = line;
  if (typeof label !== 'string' || !(Array.isArray(args) || typeof args === 'object')) {
    throw new TypeError('it needs "label", a text, and "args", a list');
  }
  if (!Array.isArray(of) || of.length !== 2)
    throw new TypeError('it needs "of", the double\'s name and the member\'s');
  return {
    id,
    label,
    double: String(of[0]),
    member: String(of[1]),
    at: { began: wholeNumber(line, 'at'), ended: undefined },
    kind: (line['kind'] ?? 'call') as EntryKind,
    args: decode(args ?? null) as readonly unknown[],
    receiver: on === undefined ? undefined : decode({ $: 'shown', as: on }),
    began,
    ended: undefined,
    outcome: { state: pending === true ? 'pending' : 'running' },
    site: readSavedSite(site),
    parent: typeof during === 'number' ? during : undefined,
    answer: Array.isArray(by) ? { plan: String(by[0]), reply: String(by[1]) } : undefined,
  };
}

function readSavedSite(json: Json | undefined): Site | undefined {
  if (!Array.isArray(json)) return undefined;
  const [file, line, column] = json;
  return { file: String(file), line: Number(line), column: Number(column) };
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
        `"state" is ${JSON.stringify(state)}, and must be returned, threw, fulfilled or rejected`,
      );
  }
}

function wholeNumber(line: Line, key: string): number {
  const value = line[key];
  if (!Number.isInteger(value))
    throw new TypeError(`"${key}" is ${JSON.stringify(value)}, and must be a whole number`);
  return value as number;
}
