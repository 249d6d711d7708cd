import { expect, test } from 'vitest';
import type { Schemas } from '../../api/client';
import { byFate, fate, holds, isDate, ofPlanned, published } from './holding';

const result = (more: Partial<Schemas['PublishResult']>): Schemas['PublishResult'] =>
  ({
    sound: true,
    revision: 12,
    added: [],
    changed: [],
    unchanged: [],
    withdrawn: [],
    runsPlanned: 0,
    runsWithdrawn: 0,
    runsChanged: 2,
    runsTaken: 0,
    runsStopped: 0,
    draft: 0,
    problems: [],
    ...more,
  }) as Schemas['PublishResult'];

test.each([
  [
    result({}),
    'Revision 12 is in force; runs of today and tomorrow: 0 planned, 2 changed, 0 withdrawn.',
  ],
  [result({ runsTaken: 1 }), '0 withdrawn; 1 run that had begun takes it.'],
  [
    result({ runsTaken: 3, runsStopped: 2 }),
    '; 2 attempts are being stopped and tried again with it.',
  ],
  [
    result({ revision: 0, draft: 7, goesLive: '2027-04-01' }),
    'Kept as draft 7: it goes live by itself, and holds from business date 2027-04-01.',
  ],
])('what a publication came to is said in a sentence (%#)', (one, expected) => {
  expect(published(one)).toContain(expected);
});

test.each([
  ['planned', { from: 'planned', ofStreams: {} }],
  ['date', { from: 'planned', ofStreams: {} }],
  ['2027-04-01', { from: '2027-04-01', ofStreams: {} }],
  ['now', { from: 'now', ofStreams: {} }],
])('%s is asked of the service as it is meant', (from, expected) => {
  expect(holds(from)).toEqual(expected);
});

test('a date is known as one before and after it is typed', () => {
  expect(['date', '2027-04-01', 'now', 'next-date'].map(isDate)).toEqual([
    true,
    true,
    false,
    false,
  ]);
});

test('what changes comes before what stays', () => {
  const run = (what: string, because = ''): Schemas['OpenRunView'] => ({
    reference: `a/b@2027-03-04#1`,
    state: 'waiting',
    what,
    because,
  });
  const sorted = byFate([run('keeps', 'it runs'), run('takes'), run('gone')]);
  const planned = [run('takes'), run('takes'), run('gone')].map((one) => ({
    ...one,
    state: 'planned',
  }));
  expect(ofPlanned([...planned, run('takes')])).toEqual([
    ['takes the new version', 2],
    ['is taken off the plan', 1],
  ]);
  expect(sorted.map(fate)).toEqual([
    'takes the new version',
    'is taken off the plan',
    'keeps the old version: it runs',
  ]);
});
