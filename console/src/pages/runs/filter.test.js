import { expect, test } from 'vitest';
import { addressOf, filterOf, queryOf } from './filter';
const today = '2027-03-04';
const filter = (text) => filterOf(new URLSearchParams(text), today);
test('without a date today is meant, and is not written into the address', () => {
    expect(filter('').date).toBe(today);
    expect(addressOf(filter('state=failed'), today)).toBe('state=failed');
});
test.each([
    'state=failed&text=night*',
    'date=2027-03-01',
    'from=2027-03-01&to=2027-03-03',
    'date=',
])('the address %s reads back to the same filter', (text) => {
    expect(filter(addressOf(filter(text), today))).toEqual(filter(text));
});
test('only what is said is asked for', () => {
    expect(queryOf(filter('date=&tag=customs'))).toEqual({ tag: 'customs' });
});
