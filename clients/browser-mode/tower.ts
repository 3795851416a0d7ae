export interface Tower {
  readonly name: string;
  open(to: number): void;
}

type Angle = number;

/** Lines of types stand above what is called, so that lines of what the browser runs are others. */
export function turn(tower: Tower, to: Angle): void {
  interface Step {
    readonly at: Angle;
  }
  const step: Step = {
    at: to,
  };
  tower.open(step.at);
}
