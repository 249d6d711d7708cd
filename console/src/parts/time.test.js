import { describe, expect, it } from 'vitest';
import { axisTime, bytes, clock, localDate, span } from './time';
describe('a span', () => {
    it.each([
        [0, '0s'],
        [-5_000, '0s'],
        [59_400, '59s'],
        [60_000, '1m 00s'],
        [3_599_000, '59m 59s'],
        [3_900_000, '1h 05m'],
        [90_000_000, '1d 1h'],
    ])('of %i ms reads %s', (millis, text) => expect(span(millis)).toBe(text));
});
describe('an instant', () => {
    const now = new Date(2027, 2, 4, 12, 0, 0).getTime();
    it('of today is a time', () => {
        expect(clock(new Date(2027, 2, 4, 7, 5, 9).toISOString(), now)).toBe('07:05:09');
        expect(clock(new Date(2027, 2, 4, 0, 0, 0).toISOString(), now, false)).toBe('00:00');
    });
    it('of another day has its date', () => {
        expect(clock(new Date(2027, 2, 5, 7, 5, 9).toISOString(), now)).toBe('2027-03-05 07:05:09');
    });
    it('that is not there is nothing', () => expect(clock(undefined, now)).toBe(''));
    it('has the date of the viewer', () => expect(localDate(now)).toBe('2027-03-04'));
});
it('bytes have a unit that fits', () => {
    expect([bytes(12), bytes(12_300), bytes(10_000_000)]).toEqual(['12 B', '12.3 kB', '10.0 MB']);
});
it('an axis says the time, and the day where it begins', () => {
    const midnight = new Date(2027, 2, 4).getTime();
    expect(axisTime(midnight)).toBe('4 Mar');
    expect(axisTime(midnight + 3_600_000)).toBe('01:00');
});
