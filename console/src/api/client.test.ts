// @vitest-environment happy-dom
import { expect, test } from 'vitest';
import { answering, Page, Refusing } from '../test/draw';
import { api, body } from './client';

const people = '/api/v1/people';

test('a list that comes in pages is read to its end', async () => {
  const calls = answering({
    [`GET ${people}`]: (call) =>
      call.query.get('after') === '2.ida'
        ? [{ name: 'ola', role: 'viewer' }]
        : new Page([{ name: 'ane' }, { name: 'ida' }], `${people}?limit=2&after=2.ida`),
  });
  const all = await body(api.GET(people));
  expect(all.map((one) => one.name)).toEqual(['ane', 'ida', 'ola']);
  expect(calls).toHaveLength(2);
});

test('of a list of which one asks a part, one part is read', async () => {
  const calls = answering({
    'GET /api/v1/audit': () => new Page([{ id: 7 }], '/api/v1/audit?limit=1&before=7'),
  });
  expect(await body(api.GET('/api/v1/audit', { params: { query: { limit: 1 } } }))).toHaveLength(1);
  expect(calls).toHaveLength(1);
});

test('a page that is refused refuses the list', async () => {
  answering({
    [`GET ${people}`]: (call) => {
      if (call.query.get('after')) {
        throw new Refusing(403, 'your role does not allow this');
      }
      return new Page([{ name: 'ane' }], `${people}?after=1.ane`);
    },
  });
  await expect(body(api.GET(people))).rejects.toThrow('your role does not allow this');
});
