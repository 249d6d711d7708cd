import type { Schemas } from '../../api/client';

type Stretch = Schemas['StretchView'];

const colors = ['#2f6690', '#c9822b', '#6a8d73', '#7d5ba6', '#b5495b', '#4c9a9a', '#8a6d3b'];

/** A colour for each of some people; what nobody has is red. */
export function colorOf(one: string, people: string[]): string {
  const at = people.indexOf(one);
  return at < 0 ? '#c62828' : (colors[at % colors.length] ?? '#888888');
}

/** A part of a day, in percent of it. */
export interface Part {
  from: string;
  title: string;
  left: number;
  width: number;
  who: string[];
}

/** One day of a duty. */
export interface Day {
  date: string;
  title: string;
  parts: Part[];
}

/** Minutes since midnight, and the date, of a moment on a zone's clock. */
function local(at: number, zone: string): { date: string; minutes: number; day: string } {
  const parts = new Intl.DateTimeFormat('en-GB', {
    timeZone: zone,
    year: 'numeric',
    month: '2-digit',
    day: '2-digit',
    hour: '2-digit',
    minute: '2-digit',
    weekday: 'short',
    hourCycle: 'h23',
  }).formatToParts(at);
  const of = (type: string) => parts.find((part) => part.type === type)?.value ?? '';
  return {
    date: `${of('year')}-${of('month')}-${of('day')}`,
    minutes: Number(of('hour')) * 60 + Number(of('minute')),
    day: of('weekday'),
  };
}

const hhmm = (minutes: number) =>
  `${String(Math.floor(minutes / 60)).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`;

/** Cuts stretches at midnight: each date of the zone's clock with its parts, without holes. */
export function daysOf(stretches: Stretch[], zone: string): Day[] {
  const days: Day[] = [];
  const put = (date: string, weekday: string, from: number, to: number, who: string[]) => {
    let day = days.find((one) => one.date === date);
    if (!day) {
      day = { date, title: `${weekday} ${date}`, parts: [] };
      days.push(day);
    }
    day.parts.push({
      from: `${date} ${from}`,
      title: `${hhmm(from)} to ${to === 1440 ? '24:00' : hhmm(to)}`,
      left: (from / 1440) * 100,
      width: ((to - from) / 1440) * 100,
      who,
    });
  };
  for (const one of stretches) {
    const end = local(Date.parse(one.to ?? '') - 1, zone);
    let at = local(Date.parse(one.from ?? ''), zone);
    let noon = Date.parse(one.from ?? '');
    for (let most = 0; at.date !== end.date && most < 500; most++) {
      put(at.date, at.day, at.minutes, 1440, one.who);
      // By half days, so that no clock change skips a date.
      const before = at.date;
      while (local(noon, zone).date === before) {
        noon += 43_200_000;
      }
      const next = local(noon, zone);
      at = { ...next, minutes: 0 };
    }
    put(at.date, at.day, at.minutes, Math.min(1440, end.minutes + 1), one.who);
  }
  return days;
}
