/** A star of the made-up sky, by its place on the chart from 0 to 100. */
export interface Star {
  readonly name: string;
  readonly x: number;
  readonly y: number;
  readonly brightness: number;
}

/** The chart: a script of its own, loaded when somebody looks at it. */
export const stars: readonly Star[] = [
  { name: 'Orrin', x: 22, y: 31, brightness: 4 },
  { name: 'Tamsel', x: 57, y: 18, brightness: 3 },
  { name: 'Vey', x: 74, y: 62, brightness: 5 },
  { name: 'Little Vey', x: 81, y: 70, brightness: 2 },
  { name: 'Hollin', x: 39, y: 77, brightness: 3 },
];
