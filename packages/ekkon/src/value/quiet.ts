/** How many readings of the platform are under way that Ekkon asked for. */
let readings = 0;

/** Whether Ekkon is reading something of the platform: what the platform calls for that is nobody's call. */
export function isQuiet(): boolean {
  return readings > 0;
}

/** Reads something of the platform, which may call others of its members: nothing of that is recorded. */
export function quietly<R>(read: () => R): R {
  readings++;
  try {
    return read();
  } finally {
    readings--;
  }
}

/** How many matchers of the user's own are being asked about a value, one inside another. */
let questions = 0;

/** Whether somebody's predicate, matcher or schema is running: what it calls is no call of the program. */
export function isAsking(): boolean {
  return questions > 0;
}

/** Runs somebody's predicate, matcher or schema. */
export function asking<R>(ask: () => R): R {
  questions++;
  try {
    return ask();
  } finally {
    questions--;
  }
}
