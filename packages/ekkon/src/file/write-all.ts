import { writeSync } from 'node:fs';

/**
 * Writes all of something to a file. A disk that is nearly full takes less than it is given, and says so by the number of
 * bytes alone.
 *
 * @throws whatever the file system throws, as once it is full
 */
export function writeAll(file: number, given: string | Uint8Array): void {
  const bytes = typeof given === 'string' ? Buffer.from(given) : given;
  for (let at = 0; at < bytes.length; ) at += writeSync(file, bytes, at);
}
