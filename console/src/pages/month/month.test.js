import { expect, it } from 'vitest';
import { columnOf } from '../rules/column';
import { streamAddress } from '../streams/address';
import { firstOfMonth, holidaysOf, lengthOfMonth, monthName } from './month';
it('months follow one another across the year', () => {
    expect(firstOfMonth('2026-12-17', 1)).toBe('2027-01-01');
    expect(firstOfMonth('2027-01-01', -1)).toBe('2026-12-01');
    expect(lengthOfMonth('2028-02-01')).toBe(29);
    expect(lengthOfMonth('2100-02-01')).toBe(28);
    expect(monthName('2027-03-01')).toBe('March 2027');
});
it('a holiday is named once, however many streams it closes', () => {
    const day = (holiday) => ({ date: '2027-03-29', holiday });
    expect(holidaysOf([
        { cells: [day("Founders' Day (brannoch)"), { date: '2027-03-26', holiday: '' }] },
        { cells: [day("Founders' Day (brannoch)")] },
        { cells: [day('Egg Monday (skerry)')] },
    ])).toEqual({ '2027-03-29': "Founders' Day (brannoch), Egg Monday (skerry)" });
});
it('the column of a message is found where it has one', () => {
    expect(columnOf('column 13: did you mean "month"?')).toBe(13);
    expect(columnOf('unknown calendar')).toBe(0);
});
it('the address of a stream keeps its slashes', () => {
    expect(streamAddress('passenger/night manifest')).toBe('/streams/passenger/night%20manifest');
});
