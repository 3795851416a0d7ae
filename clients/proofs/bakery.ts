import { filter, map, type Observable } from 'rxjs';

/** The devices of a bakery. */
export interface Parts {
  readonly oven: {
    heat(degrees: number, done: (error?: Error) => void): void;
    put(loaves: readonly string[]): Promise<number>;
    readonly hot: boolean;
    door: 'open' | 'shut';
  };
  readonly printer: {
    print(labels: readonly { readonly name: string; readonly grams: number }[]): void;
  };
  readonly log: { info(line: string): void; warn(line: string): void };
}

export class Bakery {
  private readonly parts: Parts;

  constructor(parts: Parts) {
    this.parts = parts;
  }

  /** Heats the oven and bakes; a heater that fails is noted and given up. */
  bake(loaves: readonly string[]): Promise<number> {
    const { oven, log } = this.parts;
    return new Promise((resolve) => {
      try {
        oven.heat(230, (error) => {
          if (error !== undefined) {
            log.warn(error.message);
            resolve(0);
            return;
          }
          oven.door = 'open';
          void oven.put(loaves).then((weight) => {
            oven.door = 'shut';
            log.info(`baked ${loaves.length}`);
            resolve(weight);
          });
        });
      } catch {
        resolve(-1);
      }
    });
  }

  label(loaves: readonly string[]): void {
    const { printer, log } = this.parts;
    const labels = loaves.filter((name) => name !== '').map((name) => ({ name, grams: 750 }));
    printer.print(labels);
    if (labels.length > 20) log.warn('many labels');
  }

  /** Bakes each order that can be baked. */
  take(orders: Observable<string>): { unsubscribe(): void } {
    const { oven } = this.parts;
    return orders
      .pipe(
        filter((name) => name !== 'stone'),
        map((name) => [name]),
      )
      .subscribe((loaves) => void oven.put(loaves));
  }
}
