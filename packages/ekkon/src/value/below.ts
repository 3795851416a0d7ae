/** The public function that was called: reported places are its callers, so its own frames are left out. */
export type Below = (...args: never[]) => unknown;
