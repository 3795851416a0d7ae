/** The public function that was called: reported places are its callers, so its own frames are left out. */
export type Below = (...args: never[]) => unknown;

const outermost = new WeakMap<Below, Below>();

/** Notes that the program calls a function through another, as the build has it for parts that are loaded late. */
export function calledThrough<F extends Below>(inner: F, outer: Below): F {
  if (!outermost.has(inner)) outermost.set(inner, outer);
  return inner;
}

/** The function that the program itself called. */
export function asCalled(below: Below): Below {
  return outermost.get(below) ?? below;
}
