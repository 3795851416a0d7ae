/** What was asked holds; it does not hold; the input or the call is wrong. */
export type ExitCode = 0 | 1 | 2;
