import { NotationError } from '../grammar/notation-error.ts';
import { InputError } from './input-error.ts';

/** What is wrong with a file that was given, as one clear error; anything else is no fault of the input. */
export function inputProblem(command: string, file: string, error: unknown): unknown {
  if (error instanceof InputError) return error;
  if (error instanceof NotationError) return new InputError(`${command} ${file}: ${error.message}`);
  if (!(error instanceof Error)) return error;
  const code = 'code' in error ? error.code : undefined;
  if (code === 'ENOENT') return new InputError(`${command} ${file}: there is no such file`);
  if (code === 'EISDIR') return new InputError(`${command} ${file}: this is a folder`);
  if (code === 'EACCES') return new InputError(`${command} ${file}: it may not be read`);
  if (error instanceof TypeError || error instanceof RangeError)
    return new InputError(`${command} ${file}: ${error.message}`);
  return error;
}
