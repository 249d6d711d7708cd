import { expect, it } from 'vitest';
import { months, weekdayOf } from './year';
it('weeks begin on Monday', () => {
    expect(weekdayOf('2027-03-01')).toBe(1);
    expect(weekdayOf('2027-02-28')).toBe(7);
});
it('every day is in its month', () => {
    const found = months([{ date: '2027-01-31' }, { date: '2027-02-01' }, { date: '2027-12-31' }]);
    expect(found.map((month) => month.days.length)).toEqual([1, 1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1]);
});
