import {
  documents,
  withItem,
  withoutItem,
  withValue,
  valueAt,
  CannotEdit,
} from '../editor/yamlText';

/** A closed day of a holiday calendar, as its text has it. */
export interface Holiday {
  day: string;
  name: string;
}

/** A calendar as its text says. */
export interface CalendarText {
  kind: 'holiday' | 'business' | '';
  name: string;
  title: string;
  holidays: Holiday[];
  extra: string[];
  /** Holiday calendars whose days are closed. */
  without: string[];
  knownTo: string;
  broken: string;
}

const DATE = /^\d{4}-\d{2}-\d{2}$/;
const RANGE = /^(\d{4}-\d{2}-\d{2}) to (\d{4}-\d{2}-\d{2})$/;

function dateText(value: unknown): string {
  return value instanceof Date ? value.toISOString().slice(0, 10) : String(value ?? '');
}

function list(value: unknown): unknown[] {
  return Array.isArray(value) ? value : value === undefined || value === null ? [] : [value];
}

/** Whether a text is a calendar; a long one that is something else is not read for it. */
export function isCalendar(text: string): boolean {
  return /^(?:holiday|business)-calendar:/m.test(text) && readCalendar(text).kind !== '';
}

/** Reads a calendar. */
export function readCalendar(text: string): CalendarText {
  const doc = documents(text)[0];
  const broken = doc?.errors[0]?.message.split('\n')[0] ?? '';
  const value = (broken ? {} : (valueAt(doc, []) ?? {})) as Record<string, unknown>;
  const kind =
    'holiday-calendar' in value ? 'holiday' : 'business-calendar' in value ? 'business' : '';
  const name = String(value[`${kind}-calendar`] ?? '');
  return {
    kind,
    name,
    title: String(value['title'] ?? name),
    holidays: list(value['holidays']).map((one) => {
      const entry = (one ?? {}) as Record<string, unknown>;
      return { day: dateText(entry['day']), name: String(entry['name'] ?? '') };
    }),
    extra: list(value['extra']).map(dateText),
    without: list(value['without']).map(String),
    knownTo: dateText(value['known-to']),
    broken,
  };
}

/** Whether an entry is dates, and not a rule that holds each year. */
function covers(day: string, date: string): boolean {
  const range = RANGE.exec(day);
  return day === date || (range !== null && date >= (range[1] ?? '') && date <= (range[2] ?? ''));
}

/** The dates from one to another, at most a year of them, in their order. */
export function datesBetween(one: string, other: string): string[] {
  const [from, to] = one <= other ? [one, other] : [other, one];
  const all: string[] = [];
  for (let at = Date.parse(`${from}T00:00:00Z`); all.length < 366; at += 86_400_000) {
    const date = new Date(at).toISOString().slice(0, 10);
    if (date > to) {
      break;
    }
    all.push(date);
  }
  return all;
}

function rangeText(from: string, to: string): string {
  return from === to ? from : `${from} to ${to}`;
}

/**
 * The text of a holiday calendar in which days are closed, as one entry.
 *
 * @throws CannotEdit where it is not one
 */
export function closed(text: string, from: string, to: string, name: string): string {
  const calendar = readCalendar(text);
  if (calendar.kind !== 'holiday') {
    throw new CannotEdit(
      `${calendar.name} closes the days of ${calendar.without.join(', ') || 'no holiday calendar'}: close a day there`,
    );
  }
  const [first, last] = from <= to ? [from, to] : [to, from];
  const entry = { day: rangeText(first, last), ...(name.trim() ? { name: name.trim() } : {}) };
  return withItem(text, ['holidays'], entry);
}

/**
 * The text in which a day is open: of a holiday calendar without the entry of that date; of a
 * business calendar with the day among the extra ones.
 *
 * @throws CannotEdit where a rule of each year closes it
 */
export function opened(text: string, date: string): string {
  const calendar = readCalendar(text);
  if (calendar.kind === 'business') {
    return withItem(text, ['extra'], date);
  }
  const nth = calendar.holidays.findIndex((one) => covers(one.day, date));
  const found = calendar.holidays[nth];
  if (!found) {
    throw new CannotEdit(
      `${date} is closed by a rule that holds each year, or by another calendar: change that rule, or open the day in the business calendar`,
    );
  }
  const range = RANGE.exec(found.day);
  const without = withoutItem(text, ['holidays'], nth);
  if (!range) {
    return without;
  }
  const [, from = '', to = ''] = range;
  const before = datesBetween(from, date).slice(0, -1);
  const after = datesBetween(date, to).slice(1);
  return [before, after].reduce(
    (all, part) =>
      part.length > 0 ? closed(all, part[0] ?? '', part[part.length - 1] ?? '', found.name) : all,
    without,
  );
}

/** The text in which an extra day of a business calendar is not open any more. */
export function notExtra(text: string, date: string): string {
  const nth = readCalendar(text).extra.indexOf(date);
  return nth < 0 ? text : withoutItem(text, ['extra'], nth);
}

const WEEKDAYS = ['Sunday', 'Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday'];

function weekday(date: string): string {
  return WEEKDAYS[new Date(`${date}T00:00:00Z`).getUTCDay()] ?? '';
}

/** The same day a year later; that of 29 February is the 28th where there is none. */
function yearLater(date: string): string {
  const later = `${Number(date.slice(0, 4)) + 1}${date.slice(4)}`;
  const real = new Date(`${later}T00:00:00Z`).toISOString().slice(0, 10);
  return real === later ? later : `${later.slice(0, 8)}28`;
}

/** A calendar that goes on for a year more, and what that came to. */
export interface Extended {
  text: string;
  /** What was copied, with the weekdays on which it was and is. */
  moved: string[];
}

/**
 * Extends a calendar by the year after one: dates of that year are copied, rules of each year hold
 * as they are, and it is known for a year longer where it says to when.
 */
export function extended(text: string, year: number): Extended {
  const calendar = readCalendar(text);
  const moved: string[] = [];
  let out = text;
  const of = (date: string) => date.startsWith(`${year}-`);
  const copied = (day: string): string | undefined => {
    const range = RANGE.exec(day);
    if (range && of(range[1] ?? '')) {
      return rangeText(yearLater(range[1] ?? ''), yearLater(range[2] ?? ''));
    }
    return DATE.test(day) && of(day) ? yearLater(day) : undefined;
  };
  const say = (day: string, to: string, name: string) =>
    moved.push(
      `${name ? `${name}: ` : ''}${day} (${weekday(day.slice(0, 10))}) → ${to} (${weekday(to.slice(0, 10))})`,
    );
  for (const one of calendar.holidays) {
    const to = copied(one.day);
    if (to && !calendar.holidays.some((other) => other.day === to)) {
      const [from = to, last = to] = to.split(' to ');
      out = closed(out, from, last, one.name);
      say(one.day, to, one.name);
    }
  }
  for (const day of calendar.extra) {
    const to = copied(day);
    if (to && !calendar.extra.includes(to)) {
      out = withItem(out, ['extra'], to);
      say(day, to, 'open');
    }
  }
  if (DATE.test(calendar.knownTo) && calendar.knownTo < `${year + 1}-12-31`) {
    out = withValue(out, ['known-to'], `${year + 1}-12-31`);
    moved.push(`known to ${calendar.knownTo} → ${year + 1}-12-31`);
  }
  return { text: out, moved };
}
