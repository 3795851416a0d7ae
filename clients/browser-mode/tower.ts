export interface Tower {
  readonly name: string;
  open(to: number): void;
}

type Angle = number;

/** Types above the code, so the browser's lines differ from those of the source. */
export function turn(tower: Tower, to: Angle): void {
  interface Step {
    readonly at: Angle;
  }
  const step: Step = {
    at: to,
  };
  tower.open(step.at);
}
