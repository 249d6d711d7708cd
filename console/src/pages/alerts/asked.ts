/** Which alerts are asked for. */
export interface Asked {
  span: string;
  /** Days, of the span from and to; empty for any. */
  from: string;
  to: string;
  kind: string;
  urgency: string;
  department: string;
  text: string;
  mine: boolean;
  closed: boolean;
}

export const nothingAsked: Asked = {
  span: '',
  from: '',
  to: '',
  kind: '',
  urgency: '',
  department: '',
  text: '',
  mine: false,
  closed: false,
};

/** How far back; nothing for any time. */
export const spans: Record<string, { title: string; hours?: number }> = {
  '': { title: 'at any time' },
  '1h': { title: 'in the last hour', hours: 1 },
  '24h': { title: 'in the last 24 hours', hours: 24 },
  '7d': { title: 'in the last 7 days', hours: 168 },
  '30d': { title: 'in the last 30 days', hours: 720 },
  days: { title: 'from and to' },
};

/** The beginning of a day on the reader's clock, so many days later; nothing where there is no day. */
function dayBegins(day: string, later: number): string | undefined {
  const [year, month, date] = day.split('-').map(Number);
  return year && month && date ? new Date(year, month - 1, date + later).toISOString() : undefined;
}

/** What is asked of the service: nothing is said of what may be anything. */
export function queryOf(asked: Asked, now: number) {
  const hours = spans[asked.span]?.hours;
  const days = asked.span === 'days';
  return {
    heads: true,
    closed: asked.closed,
    kind: asked.kind || undefined,
    urgency: asked.urgency || undefined,
    department: asked.department || undefined,
    text: asked.text.trim() || undefined,
    mine: asked.mine || undefined,
    from: days
      ? dayBegins(asked.from, 0)
      : hours === undefined
        ? undefined
        : new Date(now - hours * 3_600_000).toISOString(),
    to: days ? dayBegins(asked.to, 1) : undefined,
  };
}
