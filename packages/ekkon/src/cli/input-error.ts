/** The input or the call is wrong; the message says what, where, and what to do. Exit code 2. */
export class InputError extends Error {}
