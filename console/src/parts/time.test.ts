import { afterEach, describe, expect, it } from 'vitest';
import { axisTime, bytes, clock, clockIn, instantOf, localDate, placeOf, span } from './time';

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

describe('on the clock of the site', () => {
  afterEach(() => clockIn(undefined));

  it.each([
    ['Europe/Oslo', '2027-03-04T22:30:00Z', '23:30', '2027-03-04'],
    ['Europe/Oslo', '2027-03-04T23:30:00Z', '2027-03-05 00:30', '2027-03-05'],
    ['Asia/Kathmandu', '2027-03-04T18:00:00Z', '23:45', '2027-03-04'],
    ['Pacific/Auckland', '2027-03-04T10:59:00Z', '23:59', '2027-03-04'],
  ])('%s shows %s as %s', (zone, instant, shown, date) => {
    clockIn(zone);
    expect(clock(instant, Date.parse('2027-03-04T12:00:00Z') - 3_600_000 * 2, false)).toBe(shown);
    expect(localDate(Date.parse(instant))).toBe(date);
  });

  it.each([
    ['Europe/Oslo', '2027-03-04T21:30', '2027-03-04T20:30:00.000Z'],
    ['Europe/Oslo', '2027-07-04T21:30', '2027-07-04T19:30:00.000Z'],
    ['Europe/Oslo', '2027-10-31T02:30', '2027-10-31T00:30:00.000Z'],
    ['Europe/Oslo', '2027-03-28T02:30', '2027-03-28T01:30:00.000Z'],
    ['America/Los_Angeles', '2027-03-04T21:30', '2027-03-05T05:30:00.000Z'],
    ['Asia/Kathmandu', '2027-03-04T00:15', '2027-03-03T18:30:00.000Z'],
  ])('%s means %s by %s', (zone, typed, instant) => {
    clockIn(zone);
    expect(instantOf(typed)).toBe(instant);
  });

  it('is named by its place', () => {
    expect(['Europe/Oslo', 'America/Los_Angeles', 'UTC'].map(placeOf)).toEqual([
      'Oslo',
      'Los Angeles',
      'UTC',
    ]);
  });
});
