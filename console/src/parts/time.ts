/**
 * Instants and durations as people read them: all by one clock, that of the site, which the
 * service's sentences go by too.
 */

const time = { hour: '2-digit', minute: '2-digit', hourCycle: 'h23' } as const;

/** What prints times on the clock of a zone; on the viewer's own without one. */
function formsOf(timeZone?: string) {
  const form = (parts: Intl.DateTimeFormatOptions, locale?: string) =>
    new Intl.DateTimeFormat(locale, { ...parts, timeZone });
  return {
    timeZone,
    seconds: form({ ...time, second: '2-digit' }),
    short: form(time),
    date: form({ year: 'numeric', month: '2-digit', day: '2-digit' }, 'en-CA'),
    day: form({ day: 'numeric', month: 'short' }, 'en-GB'),
  };
}

let forms = formsOf();

/** All times are on the clock of this zone from now on. */
export function clockIn(zone: string | undefined) {
  if (zone !== forms.timeZone) {
    forms = formsOf(zone);
  }
}

/** The place of a zone, for people: Oslo of Europe/Oslo. */
export function placeOf(zone: string): string {
  return zone.slice(zone.lastIndexOf('/') + 1).replaceAll('_', ' ');
}

/** The date of an instant, as 2027-03-04. */
export function localDate(instant: number): string {
  return forms.date.format(instant);
}

/**
 * The instant of a time that was typed, as 2027-03-04T21:30, on the clock that all times are on: of
 * one that comes twice the first, of one that is skipped the time as long after the gap.
 */
export function instantOf(typed: string): string {
  const wall = Date.parse(`${typed}Z`);
  const shown = (instant: number) =>
    Date.parse(`${forms.date.format(instant)}T${forms.short.format(instant)}Z`);
  const around = [wall - 86_400_000, wall + 86_400_000].map((i) => shown(i) - i);
  const first = wall - Math.max(...around);
  const later = wall - Math.min(...around);
  return new Date(shown(first) === wall ? first : later).toISOString();
}

/** The time of an instant, with the date where it is not today; empty for none. */
export function clock(instant: string | undefined, now: number, seconds = true): string {
  if (!instant) {
    return '';
  }
  const millis = Date.parse(instant);
  const shown = (seconds ? forms.seconds : forms.short).format(millis);
  return localDate(millis) === localDate(now) ? shown : `${localDate(millis)} ${shown}`;
}

/** The time of a tick of an axis; where a day begins, the day: 24 Nov. */
export function axisTime(instant: number): string {
  const shown = forms.short.format(instant);
  return shown === '00:00' ? forms.day.format(instant) : shown;
}

/** A span in its two largest units: 1h 05m, 4m 10s, 12s. */
export function span(millis: number): string {
  const seconds = Math.max(0, Math.round(millis / 1000));
  const two = (n: number) => String(n).padStart(2, '0');
  if (seconds >= 86_400) {
    return `${Math.floor(seconds / 86_400)}d ${Math.floor((seconds % 86_400) / 3600)}h`;
  }
  if (seconds >= 3600) {
    return `${Math.floor(seconds / 3600)}h ${two(Math.floor((seconds % 3600) / 60))}m`;
  }
  return seconds >= 60 ? `${Math.floor(seconds / 60)}m ${two(seconds % 60)}s` : `${seconds}s`;
}

/** Bytes in a unit that fits. */
export function bytes(n: number): string {
  if (n < 1000) {
    return `${n} B`;
  }
  return n < 1_000_000 ? `${(n / 1000).toFixed(1)} kB` : `${(n / 1_000_000).toFixed(1)} MB`;
}
