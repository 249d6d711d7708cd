import { expect, test } from 'vitest';
import { chart } from './chart';
const value = (run, date, text) => ({
    name: 'rows',
    value: text,
    run,
    reference: `${date}#1`,
    date,
});
test('numbers stand in the order of their dates, the largest on top', () => {
    const points = chart([value(3, '2027-03-03', '20'), value(1, '2027-03-01', '10'), value(2, '2027-03-02', '30')], 100, 50);
    expect(points.map((p) => [p.value.run, p.x, p.y])).toEqual([
        [1, 0, 50],
        [2, 50, 0],
        [3, 100, 25],
    ]);
});
test('what is no number is left out, and one alone stands in the middle', () => {
    expect(chart([value(1, '2027-03-01', 'diesel'), value(2, '2027-03-02', '')], 100, 50)).toEqual([]);
    expect(chart([value(1, '2027-03-01', '7')], 100, 50)[0]?.x).toBe(50);
});
