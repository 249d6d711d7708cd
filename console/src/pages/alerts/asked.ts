/** Which alerts are asked for. */
export interface Asked {
  span: string;
  kind: string;
  urgency: string;
  department: string;
  text: string;
  mine: boolean;
  closed: boolean;
}

export const nothingAsked: Asked = {
  span: '',
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
};

/** What is asked of the service: nothing is said of what may be anything. */
export function queryOf(asked: Asked, now: number) {
  const hours = spans[asked.span]?.hours;
  return {
    heads: true,
    closed: asked.closed,
    kind: asked.kind || undefined,
    urgency: asked.urgency || undefined,
    department: asked.department || undefined,
    text: asked.text.trim() || undefined,
    mine: asked.mine || undefined,
    from: hours === undefined ? undefined : new Date(now - hours * 3_600_000).toISOString(),
  };
}
