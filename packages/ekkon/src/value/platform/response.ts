import type { PlatformClass } from './platform-class.ts';
import { unreadBody } from './request.ts';

export const response: PlatformClass = {
  name: 'Response',
  has: ['clone', 'status', 'redirected'],
  whole: ['arrayBuffer', 'formData', 'json', 'text'],
  apart: ['body', 'bodyUsed'],
  keys: ['headers'],
  fixed: ['status', 'statusText', 'ok', 'url', 'redirected', 'type'],
  unseen: unreadBody,
};
