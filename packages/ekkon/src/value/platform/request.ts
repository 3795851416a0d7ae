import type { PlatformClass, Read } from './platform-class.ts';

export const request: PlatformClass = {
  name: 'Request',
  has: ['clone', 'method', 'redirect'],
  whole: ['arrayBuffer', 'formData', 'json', 'text'],
  keys: ['headers'],
  fixed: [
    ...['method', 'url', 'mode', 'credentials', 'cache', 'redirect', 'destination', 'integrity'],
    ...['keepalive', 'referrer', 'referrerPolicy'],
  ],
  // Each request has a signal of its own, which follows the one that it was made with.
  apart: [
    ...['body', 'bodyUsed', 'duplex', 'isHistoryNavigation', 'isReloadNavigation', 'signal'],
    ...['priority', 'targetAddressSpace'],
  ],
  unseen: unreadBody,
};

/** A body can only be read by waiting for it, and then it is gone. */
export function unreadBody(read: Read): string | undefined {
  const body = read('body');
  return body === null || body === undefined ? undefined : 'its body was not read';
}
