declare global {
  /** The siren on the roof, as the station's runtime hands it to every program. */
  var siren: { sound(seconds: number): void } | undefined;
}

/** Warns everybody on the roof, once for each meter that the dome is about to move. */
export function warnRoof(metres: number): void {
  for (let metre = 0; metre < metres; metre++) globalThis.siren?.sound(2);
}
