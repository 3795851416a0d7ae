import { expect, test } from 'vitest';
import { isDotted, isIdentifier, isLetters } from './names.ts';

test('texts are told by their signs as by Unicode classes', () => {
  const signs = ['a', 'Z', '_', '$', '7', '.', ' ', '-', '\n', 'é', 'Ω', '光', '٣', '\u200d', '…', '😀'];
  const texts = ['', ...signs, ...signs.flatMap((one) => signs.map((other) => one + other))];
  for (const text of texts) {
    expect(isIdentifier(text), text).toBe(/^[\p{ID_Start}$_][\p{ID_Continue}$]*$/u.test(text));
    expect(isDotted(text), text).toBe(/^[\p{ID_Continue}$.]+$/u.test(text));
    expect(isLetters(text), text).toBe(/^\p{L}+$/u.test(text));
  }
});
