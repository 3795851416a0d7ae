import type { PlatformClass } from './platform-class.ts';

export const abortSignal: PlatformClass = {
  name: 'AbortSignal',
  has: ['aborted', 'throwIfAborted'],
  whole: ['reason'],
  keys: ['aborted', 'reason'],
  unseen: (read) =>
    read('aborted') === true ? undefined : 'which controller it belongs to cannot be seen',
};
