import { describe, expect, it } from 'vitest';
import type { Run } from '../../api/client';
import {
  barOf,
  countsSentence,
  place,
  rowsOf,
  scaleOf,
  ticks,
  zoomed,
  type StreamDay,
} from './scale';

const at = (time: string) => Date.parse(`2027-03-04T${time}:00Z`);
const run = (fields: Partial<Run>) =>
  ({ due: '2027-03-04T20:30:00Z', state: 'planned', ...fields }) as Run;

describe('the bar of a run', () => {
  const now = at('20:40');
  it('lies where it ran', () => {
    const done = run({
      state: 'succeeded',
      started: '2027-03-04T20:30:00Z',
      ended: '2027-03-04T20:35:00Z',
    });
    expect(barOf(done, now)).toEqual({ from: at('20:30'), to: at('20:35'), likely: false });
  });
  it('reaches to its likely end while it runs, and to the present once that is past', () => {
    const running = run({ state: 'running', started: '2027-03-04T20:30:00Z' });
    expect(barOf({ ...running, expectedEnd: '2027-03-04T20:50:00Z' }, now).to).toBe(at('20:50'));
    expect(barOf({ ...running, expectedEnd: '2027-03-04T20:35:00Z' }, now).to).toBe(now);
  });
  it('begins when a waiting run was due', () => {
    const waiting = run({
      state: 'waiting',
      expectedStart: '2027-03-04T21:00:00Z',
      expectedEnd: '2027-03-04T21:10:00Z',
    });
    expect(barOf(waiting, now)).toEqual({ from: at('20:30'), to: at('21:10'), likely: true });
  });
  it('never ends before it begins', () => {
    const skipped = run({ state: 'skipped', ended: '2027-03-04T20:30:00Z' });
    expect(barOf(skipped, now)).toEqual({ from: at('20:30'), to: at('20:30'), likely: false });
  });
});

describe('the scale of a day', () => {
  const now = at('12:00');
  const streams = [
    {
      runs: [
        run({ state: 'succeeded', started: '2027-03-04T02:10:00Z', ended: '2027-03-04T02:50:00Z' }),
      ],
    },
    { runs: [run({ expectedStart: '2027-03-04T20:30:00Z', expectedEnd: '2027-03-04T20:45:00Z' })] },
  ] as StreamDay[];
  it('goes from full hour to full hour', () => {
    expect(scaleOf(streams, now)).toEqual({ from: at('02:00'), to: at('21:00') });
  });
  it('close by, goes from five minutes to five minutes, with what must be done by then', () => {
    const soon = [
      {
        runs: [
          run({
            expectedStart: '2027-03-04T20:31:00Z',
            expectedEnd: '2027-03-04T20:33:00Z',
            latestEnd: '2027-03-04T20:36:00Z',
            finishBy: '2027-03-04T20:42:00Z',
          }),
        ],
      },
    ] as StreamDay[];
    expect(scaleOf(soon, now, true)).toEqual({ from: at('20:30'), to: at('20:45') });
    expect(scaleOf(streams, now, true)).toEqual({ from: at('02:00'), to: at('21:00') });
    expect(ticks(scaleOf(soon, now, true))).toHaveLength(16);
    expect(scaleOf(soon, now, true, [at('20:59')]).to).toBe(at('21:00'));
  });
  it('is looked at round the present, and never beyond its ends', () => {
    const whole = scaleOf(streams, now);
    expect(zoomed(whole, 6, now)).toEqual({ from: at('10:00'), to: at('16:00') });
    expect(zoomed(whole, 6, at('20:59'))).toEqual({ from: at('15:00'), to: at('21:00') });
    expect(zoomed(whole, 0, now)).toEqual(whole);
  });
  it('has few ticks, and places in percent', () => {
    const whole = scaleOf(streams, now);
    expect(ticks(whole).length).toBeLessThanOrEqual(16);
    expect(place(at('11:30'), whole)).toBe(50);
  });
});

it('counts are said with the most pressing first', () => {
  expect(countsSentence({ succeeded: 3, failed: 1, planned: 0 })).toBe('1 failed · 3 succeeded');
  expect(countsSentence({})).toBe('no runs');
});

describe('the rows of a day', () => {
  const start = (stream: string, number: number, state: string, date = '2027-03-04') =>
    ({ stream, number, state, date, runs: [] }) as unknown as StreamDay;
  it('has one for each stream, which speaks of the start that matters most', () => {
    const rows = rowsOf([
      start('tide', 1, 'succeeded'),
      start('tide', 2, 'failed'),
      start('tide', 3, 'planned'),
      start('fuel', 1, 'succeeded'),
      start('fuel', 2, 'succeeded'),
    ]);
    expect(rows.map((row) => [row.stream, row.starts.length, row.main.number])).toEqual([
      ['tide', 3, 2],
      ['fuel', 2, 2],
    ]);
  });
  it('has what is open from an earlier date on top, marked with that', () => {
    const rows = rowsOf([start('tide', 1, 'planned'), start('tide', 1, 'running', '2027-03-03')]);
    expect(rows.map((row) => row.earlier)).toEqual(['2027-03-03', '']);
  });
});
