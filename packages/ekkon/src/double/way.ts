/** Whether the real member runs when it is called. */
export type Way = 'observe' | 'takeOver';
