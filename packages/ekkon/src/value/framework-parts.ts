/** The marks of frameworks on their own objects. */
interface Marked {
  /** Never made reactive: the framework's machinery, and objects that a program has marked. */
  readonly __v_skip?: unknown;
  readonly __v_isVNode?: unknown;
  readonly __v_isRef?: unknown;
  readonly $$typeof?: unknown;
}

/** The parts found so far; none in most runs, which saves asking. */
let known: WeakSet<object> | undefined;

/**
 * Whether an object belongs to a framework's machinery: an instance of a component, an application, an effect. It has an
 * identity, and some frameworks warn if it is enumerated.
 */
export function isFrameworkPart(value: object): boolean {
  try {
    if (!isMachinery(value)) return false;
  } catch {
    // A proxy that has no such property, and says so.
    return false;
  }
  known ??= new WeakSet();
  known.add(value);
  return true;
}

/** Whether an object was found to be such a part before. */
export function isKnownPart(value: object): boolean {
  return known?.has(value) === true;
}

function isMachinery(value: object): boolean {
  const { hasOwn } = Object;
  if (hasOwn(value, 'appContext') && hasOwn(value, 'subTree')) return true;
  if (hasOwn(value, '_component') && hasOwn(value, '_context')) return true;
  if ((value as Marked).__v_skip !== true || isOwnMark(value, '__v_isVNode')) return false;
  // Data that a program has marked itself has a mark that cannot be enumerated.
  const own = Object.getOwnPropertyDescriptor(value, '__v_skip');
  return own === undefined || own.enumerable === true;
}

/**
 * The properties that identify an element of a framework, or a reactive reference. The others are the framework's
 * working state, and change with it. `undefined` for any other object.
 */
export function tellingKeys(value: object): readonly string[] | undefined {
  if (isOwnMark(value, '__v_isVNode')) return ofVirtualNode;
  if (isOwnMark(value, '__v_isRef')) return ofReference;
  const type = Object.getOwnPropertyDescriptor(value, '$$typeof')?.value;
  return typeof type === 'symbol' && Object.hasOwn(value, 'props') ? ofElement : undefined;
}

const ofVirtualNode = ['__v_isVNode', 'type', 'key', 'props', 'children'];
const ofReference = ['_value'];
const ofElement = ['$$typeof', 'type', 'key', 'props'];

function isOwnMark(value: object, mark: keyof Marked): boolean {
  return Object.getOwnPropertyDescriptor(value, mark)?.value === true;
}
