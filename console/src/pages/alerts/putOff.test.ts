import { beforeAll, describe, expect, it } from 'vitest';
import { clockIn } from '../../parts/time';
import { putOffTimes } from './putOff';

describe('the times until which an alert may be put off', () => {
  beforeAll(() => clockIn('Europe/Oslo'));
  const words = (at: string) =>
    putOffTimes(Date.parse(at)).map((one) => `${one.label.split(',')[0]} ${one.until}`);

  it.each([
    [
      '2027-03-04T01:00:00Z',
      ['an hour 2027-03-04T02:00', 'four hours 2027-03-04T05:00', 'the morning 2027-03-04T05:00'],
    ],
    [
      '2027-03-04T04:30:00Z',
      ['the morning 2027-03-04T05:00', 'an hour 2027-03-04T05:30', 'four hours 2027-03-04T08:30'],
    ],
    [
      '2027-03-04T05:00:00Z',
      ['an hour 2027-03-04T06:00', 'four hours 2027-03-04T09:00', 'the morning 2027-03-05T05:00'],
    ],
  ])('go by the clock of the site: %s', (now, expected) => {
    expect(words(now)).toEqual(expected.map((one) => `${one}:00.000Z`));
  });
});
