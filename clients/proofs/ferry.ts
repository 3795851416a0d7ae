import PQueue from 'p-queue';
import * as v from 'valibot';

/** The devices of a ferry's booking desk. */
export interface Parts {
  readonly boats: {
    seats(trip: string): Promise<number>;
    hold(trip: string, count: number): Promise<string>;
    release(ticket: string): void;
  };
  readonly till: {
    charge(card: string, cents: number): Promise<void>;
    refund(card: string, cents: number): Promise<void>;
  };
  readonly post: { send(to: string, letter: { readonly subject: string }): Promise<void> };
  readonly audit: { write(event: string, details?: object): void };
}

export interface Order {
  readonly trip: string;
  readonly count: number;
  readonly card: string;
  readonly mail: string;
}

const Form = v.object({
  trip: v.string(),
  count: v.pipe(v.number(), v.minValue(1)),
  card: v.string(),
  mail: v.string(),
});

export class Desk {
  private readonly parts: Parts;
  private readonly queue = new PQueue({ concurrency: 2 });

  constructor(parts: Parts) {
    this.parts = parts;
  }

  async book(order: unknown): Promise<string | undefined> {
    const { boats, till, post, audit } = this.parts;
    const read = v.safeParse(Form, order);
    if (!read.success) return this.refuse('form');
    const { trip, count, card, mail } = read.output;
    if ((await boats.seats(trip)) < count) return this.refuse('full');
    const ticket = await boats.hold(trip, count);
    try {
      await till.charge(card, 450 * count);
    } catch {
      boats.release(ticket);
      return this.refuse('card');
    }
    await post.send(mail, { subject: `Your ticket ${ticket}` }).catch(() => audit.write('unsent'));
    audit.write('booked', { ticket });
    return ticket;
  }

  async bookAll(orders: readonly unknown[]): Promise<readonly (string | undefined)[]> {
    return await Promise.all(orders.map((order) => this.queue.add(() => this.book(order))));
  }

  async cancel(ticket: string, { card, count }: Order): Promise<void> {
    this.parts.boats.release(ticket);
    await this.parts.till.refund(card, 450 * count);
    this.parts.audit.write('cancelled', { ticket });
  }

  private refuse(why: string): undefined {
    this.parts.audit.write('refused', { why });
    return undefined;
  }
}
