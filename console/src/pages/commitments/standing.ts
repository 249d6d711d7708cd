import type { Schemas } from '../../api/client';
import type { StateName } from '../../theme';

export type Commitment = Schemas['CommitmentView'];

/** Whose icon and colours each word has. */
const looks: Record<string, StateName> = {
  kept: 'succeeded',
  missed: 'failed',
  late: 'failed',
  stalled: 'cancelled',
  'will be kept': 'planned',
  'in danger': 'waiting',
  'will be late': 'waiting',
  open: 'planned',
};

/** Whose icon and colours a standing has. */
export function lookOf(standing: string): StateName {
  return looks[standing] ?? 'planned';
}

/** Whether a person should look at it. */
export function standsBadly(standing: string): boolean {
  return ['late', 'stalled', 'will be late', 'in danger'].includes(standing);
}

/** The less calm, the earlier: what a page shows first of several. */
const order = [
  'late',
  'stalled',
  'will be late',
  'in danger',
  'open',
  'will be kept',
  'missed',
  'kept',
];

export function isOver(one: Commitment): boolean {
  return one.standing === 'kept' || one.standing === 'missed';
}

/**
 * Of the promises of one commitment on a date the one that matters now: what has begun and is not
 * kept yet, the least calm first; else the next one; else the last.
 */
export function mattersNow(all: Commitment[], now: number): Commitment | undefined {
  const begun = all
    .filter((one) => !isOver(one) && Date.parse(one.begin ?? '') <= now)
    .sort((a, b) => order.indexOf(a.standing) - order.indexOf(b.standing));
  const next = all
    .filter((one) => !isOver(one))
    .sort((a, b) => Date.parse(a.begin ?? '') - Date.parse(b.begin ?? ''));
  return begun[0] ?? next[0] ?? all[all.length - 1];
}

/** What of a date's promises of one commitment is over and what is to come: kept 2, missed 1. */
export function tally(all: Commitment[]): string {
  const count = (word: string) => all.filter((one) => one.standing === word).length;
  const open = all.filter((one) => !isOver(one)).length;
  return [
    count('kept') > 0 && `kept ${count('kept')}`,
    count('missed') > 0 && `missed ${count('missed')}`,
    open > 0 && `${open} to come`,
  ]
    .filter(Boolean)
    .join(', ');
}

/** The address of a promise's page. */
export function pageOf(one: { name: string; date: string; number: number }): string {
  const number = one.number === 1 ? '' : `~${one.number}`;
  return `/commitments/${encodeURIComponent(one.name)}/${one.date}${number}`;
}

/** The same address, read. */
export function readPage(date: string | undefined): { date?: string; number: number } {
  const [day, number] = (date ?? '').split('~');
  return { date: day || undefined, number: Number(number ?? 1) || 1 };
}

/** Those of one name together, in the order in which they came. */
export function byName(all: Commitment[]): Commitment[][] {
  const found = new Map<string, Commitment[]>();
  all.forEach((one) => found.set(one.name, [...(found.get(one.name) ?? []), one]));
  return [...found.values()];
}
