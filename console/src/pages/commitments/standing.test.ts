import { describe, expect, it } from 'vitest';
import { byName, mattersNow, pageOf, readPage, tally, type Commitment } from './standing';

const NOW = Date.parse('2027-03-04T21:00:00Z');

function promise(number: number, standing: string, begin: string, name = 'filed'): Commitment {
  return {
    name,
    number,
    standing,
    begin: `2027-03-04T${begin}:00Z`,
    date: '2027-03-04',
  } as Commitment;
}

describe('of several promises of a date', () => {
  it.each([
    ['what has begun and is in danger', 2],
    ['the next one, where all that have begun are over', 3],
    ['the last one, where all are over', 2],
  ])('%s comes first', (what, expected) => {
    const first = promise(1, 'kept', '06:00');
    const all = {
      'what has begun and is in danger': [
        promise(1, 'will be kept', '20:30'),
        promise(2, 'in danger', '20:40'),
        promise(3, 'stalled', '22:00'),
      ],
      'the next one, where all that have begun are over': [
        first,
        promise(4, 'will be kept', '23:00'),
        promise(3, 'will be kept', '22:00'),
      ],
      'the last one, where all are over': [first, promise(2, 'missed', '07:00')],
    }[what] as Commitment[];
    expect(mattersNow(all, NOW)?.number).toBe(expected);
  });

  it('it is counted what became of them', () => {
    const all = [
      promise(1, 'kept', '06:00'),
      promise(2, 'kept', '07:00'),
      promise(3, 'missed', '08:00'),
      promise(4, 'stalled', '20:00'),
    ];
    expect(tally(all)).toBe('kept 2, missed 1, 1 to come');
    expect(byName([...all, promise(1, 'kept', '06:00', 'other')])).toHaveLength(2);
    expect(mattersNow([], NOW)).toBeUndefined();
  });
});

it('the address of a promise is read as it was written', () => {
  expect(pageOf(promise(1, 'kept', '06:00'))).toBe('/commitments/filed/2027-03-04');
  const page = pageOf(promise(12, 'kept', '06:00'));
  expect(page).toBe('/commitments/filed/2027-03-04~12');
  expect(readPage(page.split('/')[3])).toEqual({ date: '2027-03-04', number: 12 });
  expect(readPage(undefined)).toEqual({ date: undefined, number: 1 });
  expect(readPage('2027-03-04~x')).toEqual({ date: '2027-03-04', number: 1 });
});
