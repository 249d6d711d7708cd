import { expect, test } from 'vitest';
import { inOrder, isBringable, keyOf, lookOf, shown, type Difference } from './standing';

const one = (name: string, standing: string, more: Partial<Difference> = {}): Difference => ({
  kind: 'stream',
  name,
  department: 'Fleet',
  standing,
  revisionHere: 3,
  whoHere: 'ada',
  revisionThere: 9,
  whoThere: 'berit',
  fields: [],
  fieldsInAll: 0,
  onItsWay: [],
  ...more,
});
const all = [
  one('quay/lamps', 'only here', { revisionThere: 0 }),
  one('quay/boards', 'newer there'),
  one('harbour', 'differs', { kind: 'holiday-calendar', department: '' }),
  one('fuel/stock', 'changed on both sides', { department: 'Bunkering' }),
];
const wanted = { text: '', standing: '', kind: '' };

test.each([
  [wanted, ['quay/boards', 'fuel/stock', 'harbour', 'quay/lamps']],
  [{ ...wanted, text: 'QUAY stream' }, ['quay/boards', 'quay/lamps']],
  [{ ...wanted, text: 'bunker' }, ['fuel/stock']],
  [{ ...wanted, standing: 'differs' }, ['harbour']],
  [{ ...wanted, kind: 'stream', text: 'harbour' }, []],
])('what is shown comes in the order of what is to be done (%#)', (asked, names) => {
  expect(shown(all, asked).map((found) => found.name)).toEqual(names);
});

test('counts come in the same order', () => {
  expect(inOrder({ 'only here': 2, differs: 1, 'newer there': 4 })).toEqual([
    ['newer there', 4],
    ['differs', 1],
    ['only here', 2],
  ]);
});

test('only what is there can be brought here', () => {
  expect(all.filter(isBringable).map(keyOf)).toEqual([
    'stream quay/boards',
    'holiday-calendar harbour',
    'stream fuel/stock',
  ]);
});

test('each standing has a mark of its own', () => {
  const words = [
    'newer there',
    'only there',
    'newer here',
    'only here',
    'changed on both sides',
    'differs',
  ];
  expect(new Set(words.map((word) => lookOf(word).mark)).size).toBe(words.length);
  expect(lookOf('a word to come')).toEqual(lookOf('differs'));
});
