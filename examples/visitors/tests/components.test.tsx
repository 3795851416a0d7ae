// @vitest-environment jsdom
import {
  ClaimError,
  call,
  callsBack,
  check,
  fulfilled,
  gives,
  inTurn,
  type Ledger,
  never,
  once,
  partial,
  plan,
  reach,
  rejects,
  startsWith,
  times,
} from 'ekkon';
import { request, responds } from 'ekkon/requests';
import { test } from 'ekkon/vitest';
import { act } from 'react';
import { createRoot, type Root } from 'react-dom/client';
import { createMemoryRouter, RouterProvider } from 'react-router';
import { afterEach, describe, expect } from 'vitest';
import { routes } from '../src/desk.tsx';

Object.assign(globalThis, { IS_REACT_ACT_ENVIRONMENT: true });

let root: Root | undefined;
afterEach(async () => {
  await act(async () => root?.unmount());
  document.body.innerHTML = '';
});

/** Shows the desk at an address, as a visitor finds it. */
async function show(address: string) {
  const router = createMemoryRouter(routes, { initialEntries: [address] });
  const desk = document.body.appendChild(document.createElement('div'));
  root = createRoot(desk);
  await act(async () => root?.render(<RouterProvider router={router} />));
  return router;
}

/** What a check says that is to fail. */
function messageOf(run: () => void): string {
  try {
    run();
  } catch (error) {
    if (error instanceof ClaimError && !error.verdict.holds) return error.message;
    throw error;
  }
  throw new Error('every claim holds');
}

async function press(name: string): Promise<void> {
  const found = [...document.querySelectorAll('button, a')].find(({ textContent }) => textContent?.includes(name));
  if (found === undefined) throw new Error(`nothing to press is called ${name}: ${document.body.textContent}`);
  await act(async () => (found as HTMLElement).click());
}

/** Writes into the one field of a page, as a visitor does. */
async function write(value: string): Promise<void> {
  const field = document.querySelector('input');
  if (field === null) throw new Error('there is no field to write into');
  const { set } = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value') ?? {};
  await act(async () => {
    set?.call(field, value);
    field.dispatchEvent(new Event('input', { bubbles: true }));
  });
}

const text = () => document.querySelector('main')?.textContent ?? '';

const nights = [
  { id: 7, date: '4 March', star: 'Vey', places: 3 },
  { id: 8, date: '5 March', star: 'Tamsel', places: 0 },
];

describe('booking a night', () => {
  test('asks first, sends what was asked, and says what came of it', async ({ ledger }) => {
    const { confirm, booking } = await nightSeven(ledger);
    plan(booking, responds({ status: 201, json: { booking: 'V-71' } }));
    await press('Book');
    await reach(once(fulfilled(booking)));
    await act(async () => {});
    expect(text()).toContain('Booked: V-71');
    // The dialog never opened: its text is claimed, and it came before the request.
    check(once(call(confirm, ['Book 2 places on night 7?'])), inTurn(call(confirm), booking));
  });

  test('sends nothing if the visitor thinks again', async ({ ledger }) => {
    const { confirm, booking } = await nightSeven(ledger);
    plan(call(confirm), gives(false));
    await press('Book');
    check(once(call(confirm)), never(booking));
  });

  test('says that a night is full, and that the network failed', async ({ ledger }) => {
    const { booking } = await nightSeven(ledger);
    plan(booking, responds({ status: 409 }), rejects(new TypeError('The network is gone.')));
    for (const problem of ['This night is full.', 'The network is gone.']) {
      await press('Book');
      await act(async () => {});
      expect(text()).toContain(problem);
    }
  });

  test.for([
    ['0', 'At least one visitor has to come.'],
    ['13', 'One booking takes at most 12 visitors.'],
    ['2.5', 'Write a whole number.'],
  ])('sends nothing for %s visitors, and says why', async ([visitors = '', said], { ledger }) => {
    const { confirm, booking } = await nightSeven(ledger);
    await write(visitors);
    await press('Book');
    expect(text()).toContain(said);
    check(never(call(confirm)), never(booking));
    await write('2');
    plan(booking, responds({ status: 201, json: { booking: 'V-72' } }));
    await press('Book');
    await reach(once(fulfilled(booking)));
  });

  test('names the wrong one of two dialogs', async ({ ledger }) => {
    ledger.takeOver(window, 'confirm');
    ledger.takeOver(window, 'alert');
    window.alert('Book 2 places on night 7?');
    const told = () => check(once(call(window.confirm, ['Book 2 places on night 7?'])));
    expect(messageOf(told)).toMatch(/^#1 .*alert \(.*components\.test\.tsx:\d+\) was called, expected .*confirm with these arguments/);
  });
});

/** The page of night 7, with the dialog taken over and a visitor who says yes. */
async function nightSeven(ledger: Ledger) {
  ledger.takeOver(globalThis, 'fetch');
  const confirm = ledger.takeOver(window, 'confirm');
  plan(call(confirm), gives(true));
  await show('/nights/7');
  return {
    confirm,
    booking: request(fetch, 'POST', '/api/nights/:id/bookings', {
      params: { id: '7' },
      json: { visitors: 2 },
      headers: { 'content-type': startsWith('application/json') },
    }),
  };
}

test('the nights are listed, the sky is told as it changes, and a night leads to its page', async ({ ledger }) => {
  ledger.takeOver(globalThis, 'fetch');
  const [listed, sky] = [request(fetch, 'GET', '/api/nights'), request(fetch, 'GET', '/api/sky', { headers: { accept: 'text/event-stream' } })];
  plan(listed, responds({ json: nights }));
  plan(sky, responds({ parts: () => ['data: 21.4\n\nda', 'ta: 21.7\n\n'] }));
  const router = await show('/');
  await reach(once(fulfilled(listed)));
  await act(async () => {});
  await act(async () => {});
  expect(text()).toContain('4 MarchVey is high · 3 places left');
  expect(text()).toContain('Tamsel is high · full');
  expect(text()).toContain('Sky: 21.7 mag/arcsec²');
  await press('4 March');
  expect(router.state.location.pathname).toBe('/nights/7');
  check(once(listed), once(sky));
});

test('nights that cannot be read can be tried again, none is said, and an unknown address leads back', async ({ ledger }) => {
  ledger.takeOver(globalThis, 'fetch');
  const listed = request(fetch, 'GET', '/api/nights');
  plan(request(fetch, 'GET', '/api/sky'), responds({}));
  plan(listed, responds({ status: 503 }), responds({ text: '<!doctype html>' }), responds({ json: [] }));
  await show('/moon');
  expect(text()).toContain('The desk has no page /moon.');
  await press('All nights');
  for (const said of ['The nights cannot be read (503).', 'The desk’s server does not answer: is it running?', 'No night is open']) {
    await act(async () => {});
    expect(text()).toContain(said);
    if (!said.startsWith('No')) await press('Try again');
  }
  check(times(3, listed));
});

describe('the way here', () => {
  const found: readonly (readonly [string, object, string])[] = [
    ['a position', { argument: 0, with: { coords: { latitude: 47.5, longitude: -33.25 } } }, 'It is 75 km from here.'],
    ['a visitor who does not say', { argument: 1, with: { code: 1 } }, 'You did not say where you are'],
    ['a position that is not known', { argument: 1, with: { code: 2 } }, 'Where you are is not known'],
  ];
  test.for(found)('is told for %s', async ([, given, said], { ledger }) => {
    const { argument, with: value } = given as { argument: number; with: object };
    Object.defineProperty(navigator, 'geolocation', { value: { getCurrentPosition() {} }, configurable: true });
    const locate = ledger.takeOver(navigator.geolocation, 'getCurrentPosition');
    plan(call(locate), callsBack([value], { argument }));
    await show('/way');
    await press('From where I am');
    expect(text()).toContain(said);
    check(once(call(locate)));
    expect(ledger.entries(call(locate))[0]?.args[2]).toEqual({ timeout: 10_000 });
  });
});

test('the router gets the right routes', async ({ ledger }) => {
  ledger.takeOver(globalThis, 'fetch');
  plan(request(fetch, 'GET', '/api/nights'), responds({ json: nights }));
  plan(request(fetch, 'GET', '/api/sky'), responds({}));
  const router = await show('/nights/7');
  const navigate = ledger.observe(router, 'navigate');
  await press('All nights');
  await press('Stars');
  check(inTurn(call(navigate, ['/', partial({ fromRouteId: startsWith('0') })] as never), call(navigate)));
  expect(router.state.location.pathname).toBe('/stars');
});
