import { NotationError } from '../grammar/notation-error.ts';
import { InputError } from './input-error.ts';

const tooLarge =
  'it is too large to be read at once: 512 MB are the most. Split it into several files';

/** The errors of the operating system, in words. */
const systemSays: Readonly<Record<string, string>> = {
  EACCES: 'you have no permission for it',
  EEXIST: 'it already exists',
  EISDIR: 'this is a folder',
  ELOOP: 'its symbolic links form a loop',
  EMFILE: 'this process has too many files open',
  ENAMETOOLONG: 'its name is too long',
  ENOENT: 'there is no such file',
  ENOSPC: 'the disk is full',
  ENOTDIR: 'part of its path is not a folder',
  EPERM: 'the operation is not permitted',
  EROFS: 'the file system is read-only',
  ERR_FS_FILE_TOO_LARGE: tooLarge,
  ERR_STRING_TOO_LONG: tooLarge,
};

/** The problem with a given file, as one clear error; any other error is not the input's fault. */
export function inputProblem(command: string, file: string, error: unknown): unknown {
  if (error instanceof InputError) return error;
  if (error instanceof NotationError) return new InputError(`${command} ${file}: ${error.message}`);
  if (!(error instanceof Error)) return error;
  const { code, syscall, path, dest } = error as NodeJS.ErrnoException & { readonly dest?: string };
  const isOfSystem = syscall !== undefined || (code !== undefined && code in systemSays);
  if (code !== undefined && isOfSystem) {
    const place = [path, dest].find((each) => each !== undefined && each !== file);
    const where = place === undefined ? '' : ` (${place})`;
    return new InputError(`${command} ${file}: ${systemSays[code] ?? error.message}${where}`);
  }
  if (code?.startsWith('Z_') === true)
    return new InputError(
      `${command} ${file}: ${code === 'Z_BUF_ERROR' ? 'its compressed data is cut off' : 'its compressed data is damaged'}`,
    );
  if (error instanceof TypeError || error instanceof RangeError)
    return new InputError(`${command} ${file}: ${error.message}`);
  return error;
}
