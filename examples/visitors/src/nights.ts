/** A night on which visitors may come. */
export interface Night {
  readonly id: number;
  readonly date: string;
  readonly star: string;
  readonly places: number;
}

/** What the desk asks of its server. */
export async function loadNights(): Promise<readonly Night[]> {
  const answer = await fetch('/api/nights');
  if (!answer.ok) throw new Error(`The nights cannot be read (${answer.status}).`);
  return (await answer.json()) as readonly Night[];
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
