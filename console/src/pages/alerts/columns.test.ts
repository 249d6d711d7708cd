import { describe, expect, test } from 'vitest';
import { columnsOf } from './columns';
import { nothingAsked, queryOf } from './asked';

const day = (date: string, kind: string, count: number) => ({ date, kind, kindTitle: kind, count });

describe('the chart of alerts', () => {
  test('has every date, and shares of the highest day', () => {
    const { days, most } = columnsOf({
      from: '2027-03-27',
      to: '2027-03-30',
      days: [
        day('2027-03-27', 'late', 1),
        day('2027-03-28', 'late', 1),
        day('2027-03-28', 'failed', 3),
      ],
      sums: [],
    });
    expect(days.map((one) => one.date)).toEqual([
      '2027-03-27',
      '2027-03-28',
      '2027-03-29',
      '2027-03-30',
    ]);
    expect(most).toBe(4);
    expect(days[0]?.parts).toMatchObject([{ kind: 'late', share: 25 }]);
    expect(days[1]?.parts.map((part) => part.share)).toEqual([75, 25]);
    expect(days[2]?.title).toBe('2027-03-29: none');
  });

  test('has a colour for five kinds, and one for all others', () => {
    const kinds = ['a', 'b', 'c', 'd', 'e', 'f', 'g'];
    const { kinds: shown, days } = columnsOf({
      from: '2027-03-27',
      to: '2027-03-27',
      days: kinds.map((kind, index) => day('2027-03-27', kind, 10 - index)),
      sums: [],
    });
    expect(shown.map((kind) => kind.title)).toEqual(['a', 'b', 'c', 'd', 'e', 'others']);
    expect(days[0]?.parts.reduce((sum, part) => sum + part.share, 0)).toBeCloseTo(100);
  });

  test('has nothing to show where there was nothing', () => {
    expect(columnsOf({ from: '2027-03-27', to: '2027-03-27', days: [], sums: [] })).toMatchObject({
      most: 0,
      kinds: [],
    });
  });
});

describe('what is asked', () => {
  test('says nothing of what may be anything', () => {
    expect(queryOf(nothingAsked, 0)).toEqual({ heads: true, closed: false });
  });
  test('from and to are whole days on the reader’s clock', () => {
    const asked = { ...nothingAsked, span: 'days', from: '2027-03-04', to: '2027-03-05' };
    expect(queryOf(asked, 0)).toMatchObject({
      from: new Date(2027, 2, 4).toISOString(),
      to: new Date(2027, 2, 6).toISOString(),
    });
    expect(queryOf({ ...asked, from: '' }, 0).from).toBeUndefined();
    expect(queryOf({ ...asked, span: '' }, 0).to).toBeUndefined();
  });

  test('turns a span into a time', () => {
    const now = Date.parse('2027-03-04T12:00:00Z');
    expect(queryOf({ ...nothingAsked, span: '24h', mine: true, text: ' x ' }, now)).toEqual({
      heads: true,
      closed: false,
      mine: true,
      text: 'x',
      from: '2027-03-03T12:00:00.000Z',
    });
  });
});
