import { builtinModules } from '../value/platform/builtin-modules.ts';
import type { HeldStore } from './last-pass.ts';

/** Files that no test has touched for so long go, in milliseconds. */
const kept = 30 * 24 * 60 * 60 * 1_000;

/** How often a folder is looked through for them. */
const cleanedEvery = 24 * 60 * 60 * 1_000;

/** Larger files are not written. */
const bytesKept = 1_000_000;

const suffix = '.pass.gz';
const cleanedName = '.cleaned';

/**
 * A store in a folder: one compressed file for each test, called by a hash of the test's name. Files are written
 * beside and renamed, so a reader never sees half of one. Writing gives `false` if a record is too large.
 *
 * @returns `undefined` where there are no files, as in a browser
 */
export function folderStore(folder: string): HeldStore | undefined {
  const load = builtinModules();
  if (load === undefined) return undefined;
  // Taken now, so replacements by a test have no effect.
  const { existsSync, mkdirSync, readdirSync, readFileSync } = load('node:fs');
  const { renameSync, rmSync, statSync, utimesSync, writeFileSync } = load('node:fs');
  const { join } = load('node:path');
  const { gunzipSync, gzipSync } = load('node:zlib');
  const { createHash, randomUUID } = load('node:crypto');
  const pathOf = (test: string) => {
    const hash = createHash('sha256').update(test).digest('hex').slice(0, 40);
    return join(folder, `${hash}${suffix}`);
  };
  let isReady = false;
  return {
    read(test) {
      const path = pathOf(test);
      if (!existsSync(path)) return undefined;
      const text = gunzipSync(readFileSync(path)).toString('utf8');
      touch(path);
      return text;
    },
    write(test, record): false | undefined {
      const compressed = gzipSync(record, { level: 1 });
      if (compressed.length > bytesKept) return false;
      if (!isReady) {
        mkdirSync(folder, { recursive: true });
        clean();
        isReady = true;
      }
      const path = pathOf(test);
      const beside = `${path}.${randomUUID().slice(0, 8)}`;
      try {
        writeFileSync(beside, compressed);
        // Some file systems write a replaced file to the disk at once. A reader that comes in between
        // finds nothing, as before the first pass.
        rmSync(path, { force: true });
        renameSync(beside, path);
      } catch (error) {
        rmSync(beside, { force: true });
        throw error;
      }
      return undefined;
    },
  };

  /** A test that fails for a month still has its file. */
  function touch(path: string): void {
    const now = new Date();
    try {
      utimesSync(path, now, now);
    } catch {
      // The folder is only read from.
    }
  }

  function clean(): void {
    const now = Date.now();
    const mark = join(folder, cleanedName);
    if (existsSync(mark) && now - statSync(mark).mtimeMs < cleanedEvery) return;
    writeFileSync(mark, '');
    for (const name of readdirSync(folder)) {
      if (!name.includes(suffix)) continue;
      const path = join(folder, name);
      // Another process may clean at the same time.
      const stat = statSync(path, { throwIfNoEntry: false });
      if (stat !== undefined && now - stat.mtimeMs > kept) rmSync(path, { force: true });
    }
  }
}
