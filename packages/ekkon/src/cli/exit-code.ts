/** The claims hold; they do not hold; the input or the usage is wrong. */
export type ExitCode = 0 | 1 | 2;
