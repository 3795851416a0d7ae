/** A place in source code; line and column count from 1. */
export interface Site {
  readonly file: string;
  readonly line: number;
  readonly column: number;
}

/** A stack captured and not yet read: reading it is what costs. */
export interface CapturedSite {
  readonly stack?: string;
}

/** How many frames are kept, so that a callback passed through native code still finds its place. */
const framesKept = 4;

/**
 * Captures where the running function was called from.
 *
 * @param below the function whose caller is meant; its own frame and those above it are left out
 */
export function captureSite(below: (...args: never[]) => unknown): CapturedSite {
  const limit = Error.stackTraceLimit;
  const captured: CapturedSite = {};
  try {
    Error.stackTraceLimit = framesKept;
    if (Error.captureStackTrace === undefined) return new Error('here');
    Error.captureStackTrace(captured, below);
    return captured;
  } finally {
    Error.stackTraceLimit = limit;
  }
}

/** The first place in user code that a captured stack names; nothing if none was captured. */
export function readSite(captured: CapturedSite | undefined): Site | undefined {
  const stack = captured?.stack;
  if (typeof stack !== 'string') return undefined;
  for (const line of stack.split('\n')) {
    const site = readFrame(line);
    if (site !== undefined && !site.file.startsWith('node:')) return site;
  }
  return undefined;
}

/** `at name (file:line:column)`, `at file:line:column`, and `name@file:line:column` of other engines. */
const frame = /(?:^\s*at (?:.*\()?|@)((?:[a-z]+:\/\/)?[^()@]*?):(\d+):(\d+)\)?\s*$/;

function readFrame(text: string): Site | undefined {
  const found = frame.exec(text);
  if (found === null) return undefined;
  const [, file = '', line, column] = found;
  return { file: cleanFile(file), line: Number(line), column: Number(column) };
}

/** A file's path without its scheme, and without what a bundler's server adds to it. */
function cleanFile(file: string): string {
  const path = file.startsWith('file://') ? decodeURIComponent(new URL(file).pathname) : file;
  return path.replace(/^async /, '').replace(/[?#].*$/, '');
}

/** The path as seen from a folder, if the file lies below it. */
export function fileFrom(folder: string | undefined, file: string): string {
  if (folder === undefined || folder === '') return file;
  const start = folder.endsWith('/') ? folder : `${folder}/`;
  return file.startsWith(start) ? file.slice(start.length) : file;
}
