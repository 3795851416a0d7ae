import type { PlatformClass, Read } from './platform-class.ts';

export const blob: PlatformClass = {
  name: 'Blob',
  has: ['size', 'slice'],
  whole: ['arrayBuffer', 'stream', 'text'],
  fixed: ['size', 'type'],
  unseen: unreadBytes,
};

/** The bytes can only be read by waiting for them. */
function unreadBytes(read: Read): string | undefined {
  return read('size') === 0 ? undefined : 'its bytes were not read';
}
