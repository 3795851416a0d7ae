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
