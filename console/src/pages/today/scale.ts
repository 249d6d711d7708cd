import type { Run, Schemas } from '../../api/client';

export type StreamDay = Schemas['StreamDay'];

const HOUR = 3_600_000;

/** A span of time that is drawn across the page. */
export interface Scale {
  from: number;
  to: number;
}

/**
 * From the full hour before the first thing of the day to the full hour after the last, three hours
 * at least; close by, from five minutes to five minutes. Further times are on
 * it too.
 */
export function scaleOf(
  streams: StreamDay[],
  now: number,
  close = false,
  further: number[] = [],
): Scale {
  let from = Math.min(Number.POSITIVE_INFINITY, ...further);
  let to = Math.max(Number.NEGATIVE_INFINITY, ...further);
  for (const stream of streams) {
    for (const run of stream.runs) {
      const bar = barOf(run, now);
      from = Math.min(from, bar.from);
      const more = run.ended ? [] : [run.finishBy, close ? run.latestEnd : undefined];
      to = Math.max(to, bar.to, ...more.flatMap((one) => (one ? [Date.parse(one)] : [])));
    }
  }
  if (from > to) {
    return { from: now - 4 * HOUR, to: now + 4 * HOUR };
  }
  const unit = close && to - from < 3 * HOUR ? HOUR / 12 : HOUR;
  const least = close ? unit : 3 * HOUR;
  const wide = { from: Math.floor(from / unit) * unit, to: Math.ceil(to / unit) * unit };
  return { from: wide.from, to: Math.max(wide.to, wide.from + least) };
}

/** A part of the day that is looked at: so many hours round the present, or all of it. */
export function zoomed(whole: Scale, hours: number, now: number): Scale {
  const width = hours * HOUR;
  if (hours === 0 || whole.to - whole.from <= width) {
    return whole;
  }
  const from = Math.min(Math.max(now - width / 3, whole.from), whole.to - width);
  return { from, to: from + width };
}

/** Where an instant lies on the scale, in percent of the width. */
export function place(instant: number, scale: Scale): number {
  return ((instant - scale.from) / (scale.to - scale.from)) * 100;
}

/** The ticks of a scale: so many hours apart that at most 16 are drawn. */
export function ticks(scale: Scale): number[] {
  const steps = [1 / 60, 1 / 12, 0.25, 0.5, 1, 2, 3, 6, 12, 24].map((hours) => hours * HOUR);
  const step = steps.find((one) => (scale.to - scale.from) / one <= 16) ?? 24 * HOUR;
  const found: number[] = [];
  for (let tick = Math.ceil(scale.from / step) * step; tick <= scale.to; tick += step) {
    found.push(tick);
  }
  return found;
}

/** The bar of a run: what has happened, else what is likely, else its due time. */
export function barOf(run: Run, now: number): { from: number; to: number; likely: boolean } {
  const at = (instant: string | undefined) => (instant ? Date.parse(instant) : undefined);
  const due = at(run.due) ?? now;
  if (run.ended) {
    const end = at(run.ended) ?? now;
    return { from: Math.min(at(run.started) ?? end, end), to: end, likely: false };
  }
  if (run.started && (run.state === 'running' || run.state === 'starting')) {
    return {
      from: at(run.started) ?? due,
      to: Math.max(at(run.expectedEnd) ?? now, now),
      likely: false,
    };
  }
  const start = at(run.expectedStart) ?? Math.max(due, run.state === 'waiting' ? now : due);
  const from = run.state === 'waiting' ? Math.min(due, start) : start;
  return { from, to: Math.max(at(run.expectedEnd) ?? start, from), likely: true };
}

/** The bar of a stream: from its first run to its last. */
export function streamBar(stream: StreamDay, now: number): { from: number; to: number } {
  const bars = stream.runs.map((run) => barOf(run, now));
  return {
    from: Math.min(...bars.map((bar) => bar.from)),
    to: Math.max(...bars.map((bar) => bar.to)),
  };
}

/** A stream with all its starts of the day. */
export interface StreamRow {
  stream: string;
  starts: StreamDay[];
  /** The start that the row speaks of. */
  main: StreamDay;
  /** The date of that start, where it is an earlier one; empty for the day's own. */
  earlier: string;
}

const PRESSING = ['failed', 'running', 'starting', 'waiting', 'planned'];

/**
 * A row a stream, with all its starts on it. It speaks of the one that matters most: what failed,
 * what goes on, what comes next; where all is over, the last. What is open from an earlier date has
 * a row of its own, above the others.
 */
export function rowsOf(days: StreamDay[]): StreamRow[] {
  const last = days.reduce((latest, day) => (day.date > latest ? day.date : latest), '');
  const rows = new Map<string, StreamDay[]>();
  for (const day of days) {
    const key = day.date === last ? day.stream : `${day.stream}@${day.date}`;
    rows.set(key, [...(rows.get(key) ?? []), day]);
  }
  const found = [...rows].map(([stream, starts]) => {
    const rank = (day: StreamDay) => {
      const place = PRESSING.indexOf(day.state);
      return place < 0 ? PRESSING.length : place;
    };
    const open = starts.reduce((best, day) => (rank(day) < rank(best) ? day : best));
    const main = rank(open) === PRESSING.length ? (starts[starts.length - 1] as StreamDay) : open;
    return { stream, starts, main, earlier: main.date === last ? '' : main.date };
  });
  return [...found.filter((row) => row.earlier), ...found.filter((row) => !row.earlier)];
}

/** A sentence of how many runs are in which state, the most pressing first. */
export function countsSentence(counts: Record<string, number>): string {
  const order = [
    'failed',
    'waiting',
    'running',
    'starting',
    'planned',
    'succeeded',
    'cancelled',
    'skipped',
  ];
  const parts = order.filter((state) => counts[state]).map((state) => `${counts[state]} ${state}`);
  return parts.length > 0 ? parts.join(' · ') : 'no runs';
}
