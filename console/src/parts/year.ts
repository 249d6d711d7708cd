/** A month and its days, in order. */
export interface Month<D> {
  name: string;
  days: D[];
}

const names = [
  'January',
  'February',
  'March',
  'April',
  'May',
  'June',
  'July',
  'August',
  'September',
  'October',
  'November',
  'December',
];

/** The days of a year by month. */
export function months<D extends { date: string }>(days: D[]): Month<D>[] {
  return names.map((name, index) => ({
    name,
    days: days.filter((day) => Number(day.date.slice(5, 7)) === index + 1),
  }));
}

/** The weekday of a date: 1 for Monday to 7 for Sunday. */
export function weekdayOf(date: string): number {
  return new Date(`${date}T00:00:00Z`).getUTCDay() || 7;
}
