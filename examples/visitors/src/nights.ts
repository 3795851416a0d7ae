/** A night on which visitors may come. */
export interface Night {
  readonly id: number;
  readonly date: string;
  readonly star: string;
  readonly places: number;
}

/** The requests of the desk to its server. */
export async function loadNights(): Promise<readonly Night[]> {
  const answer = await fetch('/api/nights');
  if (!answer.ok) throw new Error(`The nights cannot be read (${answer.status}).`);
  try {
    return (await answer.json()) as readonly Night[];
  } catch {
    throw new Error('The desk’s server does not answer: is it running?');
  }
}

/** How many visitors one booking takes. */
export const visitorsMost = 12;

/** The problem with a number of visitors; `undefined` if there is none. */
export function problemOf(visitors: string): string | undefined {
  if (!/^\d+$/.test(visitors.trim())) return 'Write a whole number.';
  if (Number(visitors) < 1) return 'At least one visitor has to come.';
  if (Number(visitors) > visitorsMost) return `One booking takes at most ${visitorsMost} visitors.`;
  return undefined;
}

/** Books places on a night; gives the number of the booking. */
export async function bookNight(night: number, visitors: number): Promise<string> {
  const answer = await fetch(`/api/nights/${night}/bookings`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ visitors }),
  });
  if (answer.status === 409) throw new Error('This night is full.');
  if (!answer.ok) throw new Error(`The booking failed (${answer.status}).`);
  const { booking } = (await answer.json()) as { readonly booking: string };
  return booking;
}
