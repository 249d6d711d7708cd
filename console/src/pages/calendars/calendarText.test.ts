import { parse } from 'yaml';
import { describe, expect, it } from 'vitest';
import { closed, datesBetween, extended, notExtra, opened, readCalendar } from './calendarText';

const HOLIDAYS = `# Of the island.
holiday-calendar: brannoch
title: Holidays of Brannoch
holidays:
  - { day: 1 january, name: New Year's Day }   # always
  - { day: 2026-12-31, name: Bridge opening }
  - { day: 2026-07-06 to 2026-07-10, name: Slip week }
known-to: 2026-12-31
`;
const OFFICE = `business-calendar: office
without: [brannoch]
extra: [2026-01-02, 2027-01-02]             # stock-taking
`;

function days(text: string): string[] {
  return readCalendar(text).holidays.map((one) => one.day);
}

describe('days are closed and opened', () => {
  it('one day, and a range, each as an entry of its own', () => {
    const one = closed(HOLIDAYS, '2026-05-17', '2026-05-17', 'Regatta: day # 1');
    expect(days(one)).toEqual([
      '1 january',
      '2026-12-31',
      '2026-07-06 to 2026-07-10',
      '2026-05-17',
    ]);
    expect(readCalendar(one).holidays[3]?.name).toBe('Regatta: day # 1');
    expect(one).toContain("- { day: 1 january, name: New Year's Day }   # always\n");
    expect(days(closed(HOLIDAYS, '2026-05-19', '2026-05-17', '')).pop()).toBe(
      '2026-05-17 to 2026-05-19',
    );
  });
  it('an entry of a date goes, a range is cut in two, a rule stays', () => {
    expect(days(opened(HOLIDAYS, '2026-12-31'))).toEqual(['1 january', '2026-07-06 to 2026-07-10']);
    expect(days(opened(HOLIDAYS, '2026-07-08'))).toEqual([
      '1 january',
      '2026-12-31',
      '2026-07-06 to 2026-07-07',
      '2026-07-09 to 2026-07-10',
    ]);
    expect(days(opened(HOLIDAYS, '2026-07-06')).pop()).toBe('2026-07-07 to 2026-07-10');
    expect(() => opened(HOLIDAYS, '2026-01-01')).toThrow('a rule that holds each year');
  });
  it('closing and opening again gives the same days', () => {
    for (const date of ['2026-02-28', '2028-02-29', '9999-12-31']) {
      expect(opened(closed(HOLIDAYS, date, date, 'x'), date)).toBe(HOLIDAYS);
    }
  });
  it('a business calendar opens by extra days and closes through its holidays', () => {
    const text = opened(OFFICE, '2026-12-26');
    expect(readCalendar(text).extra).toEqual(['2026-01-02', '2027-01-02', '2026-12-26']);
    expect(text).toContain('# stock-taking');
    expect(notExtra(text, '2026-12-26')).toBe(OFFICE);
    expect(readCalendar(opened('business-calendar: x\n', '2026-12-26')).extra).toEqual([
      '2026-12-26',
    ]);
    expect(() => closed(OFFICE, '2026-05-05', '2026-05-05', '')).toThrow(
      'closes the days of brannoch',
    );
  });
});

describe('a year more', () => {
  it('copies dates and not rules, once', () => {
    const { text, moved } = extended(HOLIDAYS, 2026);
    expect(days(text).slice(3)).toEqual(['2027-12-31', '2027-07-06 to 2027-07-10']);
    expect((parse(text) as Record<string, unknown>)['known-to']).toBe('2027-12-31');
    expect(moved).toContain('Bridge opening: 2026-12-31 (Thursday) → 2027-12-31 (Friday)');
    expect(moved).toContain('known to 2026-12-31 → 2027-12-31');
    expect(extended(text, 2026)).toEqual({ text, moved: [] });
  });
  it('29 February becomes the 28th', () => {
    const leap = closed(HOLIDAYS, '2028-02-29', '2028-02-29', 'Leap');
    expect(days(extended(leap, 2028).text)).toContain('2029-02-28');
  });
  it('of extra days too, as far as they are not there', () => {
    expect(readCalendar(extended(OFFICE, 2026).text).extra).toEqual(['2026-01-02', '2027-01-02']);
    expect(readCalendar(extended(OFFICE, 2027).text).extra).toEqual([
      '2026-01-02',
      '2027-01-02',
      '2028-01-02',
    ]);
  });
});

it('dates between are at most a year of them', () => {
  expect(datesBetween('2026-02-27', '2026-03-01')).toEqual([
    '2026-02-27',
    '2026-02-28',
    '2026-03-01',
  ]);
  expect(datesBetween('2026-01-01', '9999-12-31')).toHaveLength(366);
});
