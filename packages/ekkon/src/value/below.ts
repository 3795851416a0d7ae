/** The public function that was called: a place that is told of is where that was done, so what it called is left out. */
export type Below = (...args: never[]) => unknown;
