import { expect, test } from 'vitest';
import { sentence } from './words';

test.each([
  ['it waits', 'it waits.'],
  ['may it go?', 'may it go?'],
  ['it is done.', 'it is done.'],
])('a sentence ends once: %s', (text, ended) => {
  expect(sentence(text)).toBe(ended);
});
