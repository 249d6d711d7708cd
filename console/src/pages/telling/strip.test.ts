import { describe, expect, test } from 'vitest';
import { colorOf, daysOf } from './strip';

describe('the strip of a duty', () => {
  test('is cut at midnight of its own clock', () => {
    const days = daysOf(
      [
        {
          from: '2027-03-03T23:00:00Z',
          to: '2027-03-04T06:00:00Z',
          who: ['ola'],
          zone: 'Europe/Oslo',
        },
        {
          from: '2027-03-04T06:00:00Z',
          to: '2027-03-04T18:00:00Z',
          who: ['desk'],
          zone: 'Europe/Oslo',
        },
        {
          from: '2027-03-04T18:00:00Z',
          to: '2027-03-05T23:00:00Z',
          who: ['kari'],
          zone: 'Europe/Oslo',
        },
      ],
      'Europe/Oslo',
    );
    expect(days.map((day) => day.title)).toEqual(['Thu 2027-03-04', 'Fri 2027-03-05']);
    expect(days[0]?.parts.map((part) => part.title)).toEqual([
      '00:00 to 07:00',
      '07:00 to 19:00',
      '19:00 to 24:00',
    ]);
    expect(days[1]?.parts).toMatchObject([{ left: 0, width: 100, who: ['kari'] }]);
  });

  test.each(['2027-03-28', '2027-10-31'])('has the day on which the clocks change: %s', (date) => {
    const from = new Date(Date.parse(`${date}T00:00:00Z`) - 86_400_000).toISOString();
    const to = new Date(Date.parse(`${date}T00:00:00Z`) + 2 * 86_400_000).toISOString();
    const days = daysOf([{ from, to, who: ['ola'], zone: 'Europe/Oslo' }], 'Europe/Oslo');
    expect(days.map((day) => day.date)).toContain(date);
    expect(new Set(days.map((day) => day.date)).size).toBe(days.length);
    expect(days.find((day) => day.date === date)?.parts).toMatchObject([{ left: 0, width: 100 }]);
  });

  test('shows in red what nobody has', () => {
    expect(colorOf('', ['ola'])).toBe('#c62828');
    expect(colorOf('ola', ['ola'])).not.toBe('#c62828');
  });
});
