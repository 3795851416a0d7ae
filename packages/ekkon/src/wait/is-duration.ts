/** Whether a value is a time to wait, in milliseconds. */
export function isDuration(value: unknown): value is number {
  return typeof value === 'number' && value >= 0;
}
