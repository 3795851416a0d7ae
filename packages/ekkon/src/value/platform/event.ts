import type { PlatformClass } from './platform-class.ts';

const modifiers = ['altKey', 'ctrlKey', 'metaKey', 'shiftKey'];

/** What the kinds of events hold that may change, or be changed by somebody. */
const changing = new Set([
  ...['clipboardData', 'data', 'dataTransfer', 'detail', 'error', 'formData', 'ports', 'reason'],
  ...['returnValue', 'state'],
]);

/** What each kind of event adds to those that it is a kind of. */
const added: Readonly<Record<string, readonly string[]>> = {
  AnimationEvent: ['animationName', 'elapsedTime', 'pseudoElement', 'animation', 'pseudoTarget'],
  BeforeUnloadEvent: ['returnValue'],
  BlobEvent: ['data', 'timecode'],
  ClipboardEvent: ['clipboardData'],
  CloseEvent: ['code', 'reason', 'wasClean'],
  CommandEvent: ['command', 'source'],
  CompositionEvent: ['data'],
  CustomEvent: ['detail'],
  DeviceOrientationEvent: ['absolute', 'alpha', 'beta', 'gamma'],
  DragEvent: ['dataTransfer'],
  ErrorEvent: ['message', 'filename', 'lineno', 'colno', 'error'],
  FocusEvent: ['relatedTarget'],
  FormDataEvent: ['formData'],
  GamepadEvent: ['gamepad'],
  HashChangeEvent: ['oldURL', 'newURL'],
  IDBVersionChangeEvent: ['oldVersion', 'newVersion', 'dataLoss', 'dataLossMessage'],
  InputEvent: ['data', 'inputType', 'isComposing', 'dataTransfer'],
  KeyboardEvent: [
    ...['key', 'code', 'location', 'repeat', 'isComposing', 'charCode', 'keyCode'],
    ...modifiers,
  ],
  MediaQueryListEvent: ['matches', 'media'],
  MessageEvent: ['data', 'origin', 'lastEventId', 'source', 'ports'],
  MouseEvent: [
    ...['button', 'buttons', 'clientX', 'clientY', 'screenX', 'screenY', 'movementX', 'movementY'],
    ...['relatedTarget', ...modifiers],
  ],
  PageTransitionEvent: ['persisted'],
  PointerEvent: [
    ...['pointerId', 'pointerType', 'isPrimary', 'width', 'height', 'pressure', 'twist'],
    ...['tangentialPressure', 'tiltX', 'tiltY', 'persistentDeviceId', 'altitudeAngle'],
    'azimuthAngle',
  ],
  PopStateEvent: ['state', 'hasUAVisualTransition'],
  ProgressEvent: ['lengthComputable', 'loaded', 'total'],
  PromiseRejectionEvent: ['promise', 'reason'],
  SecurityPolicyViolationEvent: [
    ...['documentURI', 'referrer', 'blockedURI', 'violatedDirective', 'effectiveDirective'],
    ...['originalPolicy', 'sourceFile', 'sample', 'disposition', 'statusCode', 'lineNumber'],
    ...['columnNumber'],
  ],
  StorageEvent: ['key', 'oldValue', 'newValue', 'url', 'storageArea'],
  SubmitEvent: ['submitter'],
  ToggleEvent: ['oldState', 'newState', 'source'],
  TouchEvent: ['touches', 'targetTouches', 'changedTouches', ...modifiers],
  TrackEvent: ['track'],
  TransitionEvent: ['propertyName', 'elapsedTime', 'pseudoElement', 'animation', 'pseudoTarget'],
  UIEvent: ['detail', 'pseudoTarget', 'which'],
  WheelEvent: ['deltaX', 'deltaY', 'deltaZ', 'deltaMode', 'momentum'],
};

/** What says once more what another accessor says, or where on the page something is shown. */
const repeated: Readonly<Record<string, readonly string[]>> = {
  MessageEvent: ['userActivation'],
  MouseEvent: [
    ...['x', 'y', 'layerX', 'layerY', 'offsetX', 'offsetY', 'pageX', 'pageY'],
    ...['fromElement', 'toElement', 'region'],
  ],
  UIEvent: ['sourceCapabilities', 'view'],
  WheelEvent: ['wheelDelta', 'wheelDeltaX', 'wheelDeltaY'],
};

export const event: PlatformClass = {
  name: 'Event',
  has: ['composedPath', 'preventDefault'],
  whole: ['stopImmediatePropagation', 'stopPropagation', 'type'],
  keys: ['target', 'currentTarget', 'defaultPrevented'],
  fixed: ['type', 'bubbles', 'cancelable', 'composed'],
  // When it was made, how far it has come, and whether a user caused it, is not part of what it says.
  apart: [
    ...['cancelBubble', 'eventPhase', 'isTrusted', 'path', 'returnValue', 'srcElement'],
    ...['timeStamp'],
  ],
};

/** The kinds of events: each holds what it adds, and what the kinds above it hold. */
export const eventKinds: readonly PlatformClass[] = Object.entries(added).map(([name, keys]) => ({
  name,
  has: [],
  keys: keys.filter((key) => changing.has(key)),
  fixed: keys.filter((key) => !changing.has(key)),
  apart: repeated[name] ?? [],
}));
