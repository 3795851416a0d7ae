// @vitest-environment jsdom
import { call, check, gives, never, once, openLedger, partial, plan, withLedger } from 'ekkon';
import { expect, test } from 'vitest';

test('the globals of a DOM in JavaScript are taken over as the methods that they yield', async () => {
  const before = Object.getOwnPropertyDescriptor(window, 'alert');
  const real = window.alert;
  await withLedger((ledger) => {
    ledger.takeOver(window, 'alert');
    ledger.takeOver(window, 'confirm');
    plan(call(window.confirm, ['Close the dome?']), gives(true));
    expect(window.confirm('Close the dome?')).toBe(true);
    window.alert('wind');
    alert('rain');
    check(once(call(window.alert, ['wind'])), once(call(window.alert, ['rain'])));
  });
  expect(Object.getOwnPropertyDescriptor(window, 'alert')).toEqual(before);
  expect(window.alert).toBe(real);
});

test('a listener hears an event of the page, and claims tell it from another', () => {
  const ledger = openLedger();
  const heard = ledger.callable<(event: Event) => void>('heard');
  const button = document.createElement('button');
  button.addEventListener('click', heard);
  button.click();
  check(once(call(heard, [partial({ type: 'click', target: button as EventTarget })])), never(call(heard, [partial({ type: 'keydown' })])));
  ledger.close();
});

test('what is written to a storage has no effect on its methods, so that these are refused there', () => {
  const ledger = openLedger({ rules: 'loose' });
  expect(() => ledger.takeOver(localStorage, 'setItem')).toThrow(/Object\.getPrototypeOf\(…\)/);
  ledger.takeOver(Object.getPrototypeOf(localStorage) as Storage, 'setItem');
  localStorage.setItem('night', '4');
  check(once(call(Storage.prototype.setItem, ['night', '4'])));
  ledger.close();
  localStorage.setItem('night', '5');
  expect(localStorage.getItem('night')).toBe('5');
});
