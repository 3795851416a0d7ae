import { type Claim, ClaimError, check } from 'ekkon';

/** What `check` throws if claims do not hold; `undefined` if they do. What else goes wrong is thrown. */
export function failureOf(...claims: readonly Claim[]): ClaimError | undefined {
  try {
    check(claims);
    return undefined;
  } catch (error) {
    if (error instanceof ClaimError) return error;
    throw error;
  }
}

/** What `check` throws of claims that are not to hold. */
export function failure(...claims: readonly Claim[]): ClaimError {
  const error = failureOf(...claims);
  if (error === undefined) throw new Error('every claim holds');
  return error;
}

export const holds = (...claims: readonly Claim[]) => failureOf(...claims) === undefined;

export const firstLine = (...claims: readonly Claim[]) => failureOf(...claims)?.message.split('\n')[0] ?? 'every claim holds';

/** What a function throws; `undefined` if nothing. */
export function thrownBy(run: () => unknown): unknown {
  try {
    run();
    return undefined;
  } catch (error) {
    return error;
  }
}

/** What an error says that a function throws; an empty text if it throws nothing. */
export const messageOf = (run: () => unknown) => (thrownBy(run) as Error | undefined)?.message ?? '';
