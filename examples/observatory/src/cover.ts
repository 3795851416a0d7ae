/** The motor that turns the mirror's cover. */
export class CoverMotor {
  readonly port: string;

  constructor(port: string) {
    this.port = port;
  }

  /** Turns by so many degrees. */
  turn(_degrees: number): void {
    throw new Error(`no motor answers at ${this.port}`);
  }
}

/** Where the code finds its motors. */
export const motors = { CoverMotor };

/** Opens the mirror's cover, with a motor of its own. */
export function openCover(port: string): void {
  const motor = new motors.CoverMotor(port);
  motor.turn(90);
}
