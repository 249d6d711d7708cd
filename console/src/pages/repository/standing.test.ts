import { expect, test } from 'vitest';
import type { Schemas } from '../../api/client';
import { short, standing } from './standing';

const source = (more: Partial<Schemas['SourceView']>): Schemas['SourceView'] => ({
  address: 'https://git.test/ferries',
  branch: 'main',
  directory: '',
  account: '',
  byItself: false,
  problem: '',
  head: '',
  headAuthor: '',
  headMessage: '',
  published: '',
  ...more,
});
const A = 'a'.repeat(40);
const B = 'b'.repeat(40);

test.each([
  [source({}), 'Nothing is known of it yet.'],
  [source({ head: A }), 'Nothing of it has been published yet.'],
  [source({ head: A, published: A }), 'What it has now is live.'],
  [
    source({ head: B, published: A }),
    'What it has now is not live yet; aaaaaaaaaa was published last.',
  ],
  [
    source({ head: B, published: A, problem: 'it cannot be reached' }),
    'What it has now is not published: it cannot be reached',
  ],
])('how a repository stands is one sentence (%#)', (one, expected) => {
  expect(standing(one)).toBe(expected);
});

test('a commit is read by its first ten characters', () => {
  expect(short(A)).toHaveLength(10);
});
