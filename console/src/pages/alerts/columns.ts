import type { Schemas } from '../../api/client';

type Sums = Schemas['SumsView'];

/** Told apart in light and dark, and by people who do not see red and green. */
const colors = ['#9b2d30', '#c9822b', '#2f6690', '#6a8d73', '#7d5ba6', '#8a8d91'];

/** One date of the chart; the parts are stacked from the bottom, in percent of the highest day. */
export interface Column {
  date: string;
  title: string;
  parts: { kind: string; share: number; color: string }[];
}

/** Makes columns of what was counted; the five kinds of which there were most have a colour. */
export function columnsOf(sums: Sums) {
  const totals = new Map<string, { title: string; count: number }>();
  const byDay = new Map<string, Map<string, number>>();
  for (const one of sums.days) {
    const total = totals.get(one.kind) ?? { title: one.kindTitle, count: 0 };
    totals.set(one.kind, { ...total, count: total.count + one.count });
    const day = byDay.get(one.date) ?? new Map<string, number>();
    byDay.set(one.date, day.set(one.kind, one.count));
  }
  const ranked = [...totals].sort((a, b) => b[1].count - a[1].count);
  const shown = ranked.slice(0, colors.length - 1);
  const rest = ranked.slice(colors.length - 1).map(([kind]) => kind);
  const kinds = shown.map(([kind, { title }], index) => ({
    kind,
    title,
    color: colors[index] ?? '',
  }));
  if (rest.length > 0) {
    kinds.push({ kind: 'rest', title: 'others', color: colors[colors.length - 1] ?? '' });
  }
  const sum = (day: Map<string, number>) => [...day.values()].reduce((a, b) => a + b, 0);
  const most = Math.max(0, ...[...byDay.values()].map(sum));
  const days: Column[] = [];
  for (
    let at = Date.parse(`${sums.from}T00:00Z`);
    at <= Date.parse(`${sums.to}T00:00Z`);
    at += 86_400_000
  ) {
    const date = new Date(at).toISOString().slice(0, 10);
    const day = byDay.get(date) ?? new Map<string, number>();
    const of = (kind: string) =>
      kind === 'rest' ? rest.reduce((n, one) => n + (day.get(one) ?? 0), 0) : (day.get(kind) ?? 0);
    const parts = kinds
      .map((kind) => ({ ...kind, count: of(kind.kind) }))
      .filter((part) => part.count > 0);
    days.push({
      date,
      title: `${date}: ${parts.map((part) => `${part.count} ${part.title.toLowerCase()}`).join(', ') || 'none'}`,
      parts: parts.map(({ kind, color, count }) => ({ kind, color, share: (100 * count) / most })),
    });
  }
  return { days, kinds, most };
}
