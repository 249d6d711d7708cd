import { expect, test } from 'vitest';
import { byNeed, lookOf, shown } from './standing';

test('what needs a person is on top', () => {
  const entries = [
    { name: 'a', standing: 'in time' },
    { name: 'b', standing: 'not expected' },
    { name: 'c', standing: 'missing' },
    { name: 'd', standing: 'expected' },
    { name: 'e', standing: 'overdue' },
    { name: 'aa', standing: 'expected' },
    { name: 'f', standing: 'any time', troubles: ['the directory does not exist'] },
  ];
  expect(byNeed(entries).map((one) => one.name)).toEqual(['c', 'f', 'e', 'aa', 'd', 'a', 'b']);
});

test('every word has a look, and a path stays in its line', () => {
  expect(lookOf('unprocessed')).toBe('failed');
  expect(lookOf('something else')).toBe('planned');
  expect(shown('/in/a\nb.csv')).toBe('/in/a\\x0ab.csv');
});
