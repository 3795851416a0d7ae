import type { Site } from './call-site.ts';
import { makeDecoder } from './decode.ts';
import { encode, type Json, type ShowValue } from './encode.ts';
import type { Entry, EntryKind, Outcome } from './entry.ts';

/** The version of the format that is written; older ones are read too, newer ones are refused. */
export const formatVersion = 1;

/** A record read back from its lines. */
export interface SavedLedger {
  /** The ledger's name. */
  readonly name: string;
  /** Every entry in order, as far as the lines go. */
  entries(): readonly Entry[];
  /** Where the lines broke off, if they did: the number of the line that is incomplete. */
  readonly cut: { readonly line: number } | undefined;
}

/** What a record needs in order to be written. */
export interface Recorded {
  readonly name: string;
  entries(): readonly Entry[];
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

function beginning(entry: Entry, { show, fileOf = (file) => file }: LineOptions): Line {
  const { began, id, label, kind, args, receiver, site, parent, outcome, answer } = entry;
  return {
    tick: began,
    begins: id,
    label,
    kind,
    args: encode(args, show),
    ...(receiver === undefined ? {} : { on: show(receiver) }),
    ...(parent === undefined ? {} : { during: parent }),
    ...(site === undefined ? {} : { site: [fileOf(site.file), site.line, site.column] }),
    ...(outcome.state === 'pending' ? { pending: true } : {}),
    ...(answer === undefined ? {} : { by: [answer.plan, answer.reply] }),
  };
}

function ending({ id, ended, outcome }: Entry, { show }: LineOptions): readonly Line[] {
  if (ended === undefined) return [];
  switch (outcome.state) {
    case 'returned':
    case 'fulfilled':
      return [{ tick: ended, ends: id, state: outcome.state, value: encode(outcome.value, show) }];
    case 'threw':
    case 'rejected':
      return [
        { tick: ended, ends: id, state: outcome.state, reason: encode(outcome.reason, show) },
      ];
    case 'running':
    case 'pending':
      return [];
  }
}

/**
 * Reads a record back. A last line that was cut off is left out, and `cut` says so.
 *
 * @throws TypeError where the text is no such record, naming the line that is wrong
 */
export function fromLines(text: string): SavedLedger {
  const lines = text.split(/\r?\n/);
  if (lines[lines.length - 1] === '') lines.pop();
  const name = readHeader(lines[0]);
  const decode = makeDecoder();
  const entries = new Map<number, Entry>();
  let cut: SavedLedger['cut'];
  for (let at = 1; at < lines.length; at++) {
    const line = parse(lines[at] ?? '');
    if (line === undefined && at === lines.length - 1) {
      cut = { line: at + 1 };
      break;
    }
    try {
      readEvent(entries, line, decode);
    } catch (error) {
      throw new TypeError(
        `line ${at + 1} is no event of a ledger: ${error instanceof Error ? error.message : error}`,
      );
    }
  }
  const ordered = [...entries.values()];
  return { name, entries: () => ordered, cut };
}

function readHeader(text: string | undefined): string {
  const header = parse(text ?? '');
  if (header?.['ekkon'] !== 'ledger') {
    throw new TypeError(
      'this is no ledger file: its first line is not the header {"ekkon":"ledger", …} that saveLedger writes',
    );
  }
  const version = header['version'];
  if (typeof version !== 'number' || version > formatVersion) {
    throw new TypeError(
      `this ledger file has version ${JSON.stringify(version)}, and versions up to ${formatVersion} are read: use a newer ekkon`,
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
  entries: Map<number, Entry>,
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
  entries.set(id, { ...entry, ended: tick, outcome: readOutcome(line, decode) });
}

function readBeginning(
  line: Line,
  id: number,
  began: number,
  decode: (json: Json) => unknown,
): Entry {
  const { label, args, on, during, site, pending, by } = line;
  if (typeof label !== 'string' || !(Array.isArray(args) || typeof args === 'object')) {
    throw new TypeError('it needs "label", a text, and "args", a list');
  }
  return {
    id,
    label,
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
        `"state" is ${JSON.stringify(state)}, and should be returned, threw, fulfilled or rejected`,
      );
  }
}

function wholeNumber(line: Line, key: string): number {
  const value = line[key];
  if (!Number.isInteger(value))
    throw new TypeError(`"${key}" is ${JSON.stringify(value)}, and should be a whole number`);
  return value as number;
}
