import type { PlatformClass } from './platform-class.ts';

const modifiers = ['altKey', 'ctrlKey', 'metaKey', 'shiftKey'];

/** What the kinds of events hold that may change, or be changed by somebody. */
const changing = new Set([
  'clipboardData',
  'data',
  'dataTransfer',
  'detail',
  'error',
  'ports',
  'reason',
  'state',
]);

/** What each kind of event adds to those that it is a kind of. */
const added: Readonly<Record<string, readonly string[]>> = {
  AnimationEvent: ['animationName', 'elapsedTime', 'pseudoElement'],
  BlobEvent: ['data', 'timecode'],
  ClipboardEvent: ['clipboardData'],
  CloseEvent: ['code', 'reason', 'wasClean'],
  CompositionEvent: ['data'],
  CustomEvent: ['detail'],
  DragEvent: ['dataTransfer'],
  ErrorEvent: ['message', 'filename', 'lineno', 'colno', 'error'],
  FocusEvent: ['relatedTarget'],
  HashChangeEvent: ['oldURL', 'newURL'],
  InputEvent: ['data', 'inputType', 'isComposing'],
  KeyboardEvent: ['key', 'code', 'location', 'repeat', 'isComposing', ...modifiers],
  MessageEvent: ['data', 'origin', 'lastEventId', 'source', 'ports'],
  MouseEvent: [
    'button',
    'buttons',
    'clientX',
    'clientY',
    'screenX',
    'screenY',
    'relatedTarget',
    ...modifiers,
  ],
  PageTransitionEvent: ['persisted'],
  PointerEvent: ['pointerId', 'pointerType', 'isPrimary', 'width', 'height', 'pressure'],
  PopStateEvent: ['state'],
  ProgressEvent: ['lengthComputable', 'loaded', 'total'],
  PromiseRejectionEvent: ['promise', 'reason'],
  StorageEvent: ['key', 'oldValue', 'newValue', 'url'],
  SubmitEvent: ['submitter'],
  ToggleEvent: ['oldState', 'newState'],
  TouchEvent: ['touches', 'targetTouches', 'changedTouches', ...modifiers],
  TransitionEvent: ['propertyName', 'elapsedTime', 'pseudoElement'],
  UIEvent: ['detail'],
  WheelEvent: ['deltaX', 'deltaY', 'deltaZ', 'deltaMode'],
};

export const event: PlatformClass = {
  name: 'Event',
  has: ['composedPath', 'preventDefault'],
  keys: ['target', 'currentTarget', 'defaultPrevented'],
  // When it was made, and whether a user caused it, is not part of what it says.
  fixed: ['type', 'bubbles', 'cancelable', 'composed'],
};

/** The kinds of events: each holds what it adds, and what the kinds above it hold. */
export const eventKinds: readonly PlatformClass[] = Object.entries(added).map(([name, keys]) => ({
  name,
  has: [],
  keys: keys.filter((key) => changing.has(key)),
  fixed: keys.filter((key) => !changing.has(key)),
}));
