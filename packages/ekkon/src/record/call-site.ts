import { asCalled, type Below } from '../value/below.ts';
import { keepFrames, stackOf } from '../value/call-stack.ts';
import { intrinsics } from '../value/intrinsics.ts';
import { withoutQuery } from '../value/without-query.ts';

/** A place in source code; line and column count from 1. */
export interface Site {
  readonly file: string;
  readonly line: number;
  readonly column: number;
}

/** A stack that was captured and not yet read, because reading is the expensive part. */
export interface CapturedSite {
  readonly stack?: string;
  /** The place itself, if it was read from a file. */
  readonly site?: Site | undefined;
}

/** How many frames are kept, so a callback passed through native code still finds its place. */
const framesKept = 4;

/** How many frames are kept for stream events: packages that pass items on stand between the source and the program. */
export const framesOfStreams = 60;

/**
 * Captures where the running function was called from.
 *
 * @param below the function whose caller is meant; its own frame and those above it are left out
 * @param frames how many frames are kept
 */
export function captureSite(below: Below, frames = framesKept): CapturedSite {
  const captured: CapturedSite = {};
  const before = keepFrames(frames);
  try {
    if (Error.captureStackTrace === undefined) return new Error('here');
    Error.captureStackTrace(captured, asCalled(below));
    return captured;
  } catch {
    // The program prepares stacks itself (`Error.prepareStackTrace`), and that threw.
    return captured;
  } finally {
    keepFrames(before);
  }
}

/** The first place in user code that a captured stack names; nothing if none was captured. */
export function readSite(captured: CapturedSite | undefined): Site | undefined {
  return readSites(captured)[0];
}

/** A file of a package, or of Ekkon where it is linked. */
const ofPackage = /[/\\]node_modules[/\\]|[/\\]ekkon[/\\]dist[/\\]/;

/** A frame of Ekkon where it is installed. */
const isOwn = /[/\\]ekkon[/\\]dist[/\\]/;

/** The lines of a stack without those of Ekkon itself, which help no reader. */
export function withoutOwn(frames: string): string {
  return frames
    .split('\n')
    .filter((line) => !isOwn.test(line))
    .join('\n');
}

/** How many places of a call are reported. */
const sitesTold = 2;

/**
 * The places in user code that a captured stack names, the nearest first and at most two. Packages are left out, unless
 * there is nothing else.
 */
export function readSites(captured: CapturedSite | undefined): readonly Site[] {
  if (captured?.site !== undefined) return [captured.site];
  const sites = stackOf(captured)
    .split('\n')
    .flatMap((line) => readFrame(line) ?? []);
  const known = sites.filter(({ file }) => !file.startsWith('node:') && !isOwn.test(file));
  const own = known.filter(({ file }) => !ofPackage.test(file));
  return (own.length > 0 ? own.slice(0, sitesTold) : known.slice(0, 1)).map(told);
}

/** Finds the source place for a page's code; unset where the engine does that itself. */
let toSource: (site: Site) => Site | undefined = () => undefined;

/** Sets how places in a page's code are mapped to its sources. */
export function leadToSource(find: (site: Site) => Site | undefined): void {
  toSource = find;
}

/** The lines of stacks that places were read from, if the places were led back to sources. */
const framesRead = new WeakMap<Site, string>();

/** A place as a line of a stack: a runner leads it back to its source by itself. */
export function frameAt(site: Site): string {
  return framesRead.get(site) ?? `    at ${site.file}:${site.line}:${site.column}`;
}

/** A place at the end of a line of a stack. */
const place = /:(\d+):(\d+)\)?\s*$/;

/** `at name (file:line:column)`, `at file:line:column`, and `name@file:line:column` of other engines. */
function readFrame(text: string): Site | undefined {
  const found = place.exec(text);
  if (found === null) return undefined;
  const file = fileIn(text.slice(0, found.index), found[0].includes(')'));
  return { file, line: Number(found[1]), column: Number(found[2]) };
}

/** A place as it is told: led back to its source, and its file's path alone. */
function told(run: Site): Site {
  const source = /^https?:/.test(run.file) ? toSource(run) : undefined;
  const site = { ...(source ?? run), file: cleanFile(source?.file ?? run.file) };
  if (source !== undefined) framesRead.set(site, `    at ${run.file}:${run.line}:${run.column}`);
  return site;
}

/** Paths may hold blanks, parentheses and `@`: the first sign of each kind is the frame's own. */
function fileIn(text: string, isInParentheses: boolean): string {
  const at = /^\s*at (?:async )?/.exec(text)?.[0];
  if (at === undefined) return text.slice(text.indexOf('@') + 1);
  if (!isInParentheses) return text.slice(at.length);
  const rest = text.slice(at.length);
  const inner = / \((?=\/|[A-Za-z]:\\|[a-z][a-z+.-]*:|<)/.exec(rest);
  return inner === null ? rest.slice(rest.indexOf('(') + 1) : rest.slice(inner.index + 2);
}

/** A file's path without its scheme, and without the additions of a bundler's server. */
function cleanFile(file: string): string {
  if (/^[a-z][a-z+.-]+:/.test(file)) {
    const path = decoded(withoutQuery(file));
    return path.replace(/^file:\/\/(?:localhost)?(?:\/(?=[A-Za-z]:))?/, '');
  }
  // In a plain path these are ordinary characters, except behind the ending, where a server adds them.
  const name = Math.max(file.lastIndexOf('/'), file.lastIndexOf('\\')) + 1;
  const asked = /\.[cm]?[jt]sx?(?=\?)/.exec(file.slice(name));
  return asked === null ? file : file.slice(0, name + asked.index + asked[0].length);
}

function decoded(url: string): string {
  try {
    return intrinsics.decodeURIComponent(url);
  } catch {
    // A percent sign that is one.
    return url;
  }
}

/** The path as seen from a folder, if the file lies below it. */
export function fileFrom(folder: string | undefined, file: string): string {
  if (folder === undefined || folder === '') return file;
  const start = folder.endsWith('/') ? folder : `${folder}/`;
  return file.startsWith(start) ? file.slice(start.length) : file;
}
