import { clock, instantOf, localDate } from '../../parts/time';

const HOUR = 3_600_000;

/** Times until which an alert may be put off, the nearest first; by the site's clock. */
export function putOffTimes(now: number): { until: string; label: string }[] {
  const six = (day: number) => Date.parse(instantOf(`${localDate(day)}T06:00`));
  const morning = six(now) > now ? six(now) : six(now + 24 * HOUR);
  return [
    { at: now + HOUR, words: 'an hour' },
    { at: now + 4 * HOUR, words: 'four hours' },
    { at: morning, words: 'the morning' },
  ]
    .sort((one, other) => one.at - other.at)
    .map(({ at, words }) => {
      const until = new Date(at).toISOString();
      return { until, label: `${words}, ${clock(until, now, false)}` };
    });
}
