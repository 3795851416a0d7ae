// @vitest-environment jsdom
import { act, createElement } from 'react';
import { createRoot } from 'react-dom/client';
import { expect, test } from 'vitest';
import { recording } from '../../packages/ekkon/tests/standing.ts';

(globalThis as { IS_REACT_ACT_ENVIRONMENT?: boolean }).IS_REACT_ACT_ENVIRONMENT = true;

test('events, elements and descriptions of elements of react', async () => {
  const events: object[] = [];
  const page = document.createElement('main');
  document.body.append(page);
  const button = (id: string) => createElement('button', { id, type: 'button', onClick: (event: object) => void events.push(event) }, id);
  await act(async () => {
    createRoot(page).render(createElement('div', null, button('open'), button('close')));
  });
  for (const each of page.querySelectorAll('button')) act(() => each.click());

  const [opened, closed] = events as [object, object];
  const event = recording(opened);
  expect(event.is(opened)).toBe('holds');
  expect(event.is(closed)).toBe('fails');
  expect([event.has({ type: 'click' }), event.has({ type: 'keydown' })]).toEqual(['holds', 'fails']);
  const [open, close] = page.querySelectorAll('button');
  expect([event.has({ target: open }), event.has({ target: close })]).toEqual(['holds', 'fails']);
  expect(event.firstLine({ type: 'click' })).toMatch(/^#1 store \(.*\): \[0\]\._reactName expected nothing, received "onClick"/);

  const element = recording(open);
  expect([element.is(open), element.is(close)]).toEqual(['holds', 'fails']);
  expect(element.firstLine(close)).toMatch(/\[0\] expected <button id="close">, received <button id="open">, another one$/);

  const described = recording(createElement('p', { className: 'note' }, 'rain'));
  expect(described.is(createElement('p', { className: 'note' }, 'rain'))).toBe('holds');
  expect(described.is(createElement('p', { className: 'note' }, 'wind'))).toBe('fails');
});
