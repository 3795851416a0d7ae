import type { PlatformClass } from './platform-class.ts';

export const event: PlatformClass = {
  name: 'Event',
  has: ['composedPath', 'preventDefault'],
  whole: ['stopImmediatePropagation', 'stopPropagation', 'type'],
  keys: ['target', 'currentTarget', 'defaultPrevented'],
  fixed: ['type', 'bubbles', 'cancelable', 'composed'],
  // The time of an event, its progress, and whether a user caused it are not part of its content.
  apart: [
    ...['cancelBubble', 'eventPhase', 'isTrusted', 'path', 'returnValue', 'srcElement'],
    ...['timeStamp'],
  ],
};
