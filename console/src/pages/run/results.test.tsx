// @vitest-environment happy-dom
import { fireEvent, screen } from '@testing-library/react';
import { expect, test } from 'vitest';
import type { Run, Schemas } from '../../api/client';
import { answering, draw, rows } from '../../test/draw';
import { ResultsPart } from './ResultsPart';

const run = { id: 7, ended: '2027-03-04T05:00:00Z' } as Run;

function result(number: number, more: Partial<Schemas['ResultView']> = {}): Schemas['ResultView'] {
  return { attempt: 2, number, columns: ['port', 'n'], found: 2, kept: 2, complete: true, ...more };
}

function drawn(all: Schemas['ResultView'][]) {
  const calls = answering({
    'GET /api/v1/runs/7/results': () => all,
    'GET /api/v1/runs/7/results/1': () => ({ result: result(1), rows: [['first', '1']] }),
    'GET /api/v1/runs/7/results/2': () => ({
      result: result(2),
      rows: [
        ['brannoch', '3'],
        [null, '4'],
      ],
    }),
  });
  return { calls, ...draw(<ResultsPart run={run} />) };
}

test('the last query of the last attempt is shown, with files of all', async () => {
  const { container } = drawn([result(1, { attempt: 1 }), result(1), result(2)]);
  await screen.findByText('brannoch');
  expect(rows(container)).toEqual([
    ['brannoch', '3'],
    ['', '4'],
  ]);
  expect(screen.getByText('CSV').getAttribute('href')).toBe(
    '/api/v1/runs/7/results/2/file?attempt=2&format=csv',
  );
  fireEvent.click(screen.getByLabelText('Query 1'));
  expect(await screen.findByText('first')).toBeTruthy();
});

test.each([
  [{ found: 1, kept: 1 }, '1 row'],
  [{ found: 9, kept: 4 }, '9 rows, of which 4 are kept'],
  [{ complete: false }, 'still coming'],
])('says how many there are: %o', async (more, text) => {
  drawn([result(2, more)]);
  expect(await screen.findByText(text)).toBeTruthy();
});

test('a run whose statements gave no rows shows nothing', async () => {
  const { container } = drawn([]);
  await new Promise((done) => setTimeout(done, 20));
  expect(container.querySelector('section')).toBeNull();
});
