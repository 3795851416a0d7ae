/** The devices of a small robotic observatory, as the night run sees them. */

export interface Position {
  /** Right ascension in degrees. */
  readonly ra: number;
  /** Declination in degrees. */
  readonly dec: number;
}

export interface Exposure {
  readonly seconds: number;
  readonly filter: 'red' | 'green' | 'blue' | 'clear';
  readonly at: Position;
}

export interface Frame {
  readonly id: string;
  readonly seconds: number;
}

export interface Dome {
  open(): void;
  close(): void;
}

export interface Mount {
  slewTo(ra: number, dec: number): Promise<void>;
  park(): Promise<void>;
}

export interface Camera {
  expose(exposure: Exposure): Promise<Frame>;
  /** Cools the sensor, in degrees Celsius. */
  cool(to: number): void;
}

export interface Weather {
  /** Rain in millimetres an hour. */
  rain(): number;
}

export interface Archive {
  /** Gives the address under which the frame is kept. */
  store(frame: Frame): Promise<string>;
  /** Keeps a frame for a later look, without an address. */
  setAside(frame: Frame): Promise<string>;
}

export interface Alarm {
  sound(reason: string): void;
}

export interface NightLog {
  write(line: string, ...more: unknown[]): void;
}

export interface Devices {
  readonly dome: Dome;
  readonly mount: Mount;
  readonly camera: Camera;
  readonly weather: Weather;
  readonly archive: Archive;
  readonly alarm: Alarm;
  readonly nightLog: NightLog;
}
