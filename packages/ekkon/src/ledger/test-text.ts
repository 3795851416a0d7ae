import { builtinModules } from '../value/platform/builtin-modules.ts';

/** How a test asserts that does not count: by an assertion of the platform, of a package, or by an error of its own. */
const ownAssertion = /\bassert\b|\bthrow\b/;

/** Assertions that a runner counts, for when the runner is not asked. */
const counted = /\bexpect\b|\bshould\b/;

/** Whether the body of a test asserts by means that nobody counts. */
export function assertsItself(body: (...args: never[]) => unknown): boolean {
  const text = Function.prototype.toString.call(body);
  return ownAssertion.test(text) || counted.test(text);
}

/**
 * Whether a test asserts by means that its runner does not count, as far as its file shows: the text between the
 * test's name and the next test.
 */
export function fileAsserts(file: string, name: string): boolean {
  const files = builtinModules()?.('node:fs');
  if (files === undefined) return false;
  try {
    return ownAssertion.test(textOf(files.readFileSync(file, 'utf8'), name));
  } catch {
    return false;
  }
}

/** The text of one test of a file; all of the file if its name is not written there as it is. */
function textOf(file: string, name: string): string {
  const from = file.indexOf(name);
  if (from < 0) return file;
  const next = /\n[\t ]*(?:test|it)\b/.exec(file.slice(from));
  return next === null ? file.slice(from) : file.slice(from, from + next.index);
}
