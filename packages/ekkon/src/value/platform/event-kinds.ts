import type { PlatformClass } from './platform-class.ts';

const modifiers = ['altKey', 'ctrlKey', 'metaKey', 'shiftKey'];

/** Properties of events that may change, or that somebody may change. */
const changing = new Set([
  ...['clipboardData', 'data', 'dataTransfer', 'detail', 'error', 'formData', 'ports', 'reason'],
  ...['returnValue', 'state'],
]);

/** The properties that each kind of event adds to its parents. */
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

/** Accessors that repeat another one, or say where on the page something is shown. */
const repeated: Readonly<Record<string, readonly string[]>> = {
  MessageEvent: ['userActivation'],
  MouseEvent: [
    ...['x', 'y', 'layerX', 'layerY', 'offsetX', 'offsetY', 'pageX', 'pageY'],
    ...['fromElement', 'toElement', 'region'],
  ],
  UIEvent: ['sourceCapabilities', 'view'],
  WheelEvent: ['wheelDelta', 'wheelDeltaX', 'wheelDeltaY'],
};

/** The kind of events with a name, if it adds to events: it has its own properties and those of its parents. */
export function eventKind(name: string): PlatformClass | undefined {
  const keys = Object.hasOwn(added, name) ? (added[name] ?? []) : undefined;
  if (keys === undefined) return undefined;
  return {
    name,
    has: [],
    keys: keys.filter((key) => changing.has(key)),
    fixed: keys.filter((key) => !changing.has(key)),
    apart: repeated[name] ?? [],
  };
}
