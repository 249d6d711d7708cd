import type { StateName } from '../../theme';

/** Which colours and icon a standing or a state of a file has; the word is always beside it. */
const looks: Partial<Record<string, StateName>> = {
  expected: 'planned',
  'any time': 'planned',
  'not expected': 'skipped',
  overdue: 'waiting',
  'in time': 'succeeded',
  came: 'succeeded',
  late: 'waiting',
  missing: 'failed',
  seen: 'waiting',
  settling: 'waiting',
  ready: 'starting',
  taken: 'running',
  used: 'succeeded',
  unprocessed: 'failed',
  rejected: 'failed',
  ignored: 'skipped',
};

/** The look of a word that is no state of a run. */
export function lookOf(word: string): StateName {
  return looks[word] ?? 'planned';
}

/** What needs a person first, then what is still to come, then the rest; by name within. */
const order = ['missing', 'overdue', 'late', 'expected', 'any time', 'in time', 'came'];

/** Sorts a checklist so that what needs eyes is on top. */
export function byNeed<T extends { standing: string; name: string; troubles?: string[] }>(
  entries: T[],
): T[] {
  const rank = (one: T) => {
    if ((one.troubles ?? []).length > 0) {
      return 0;
    }
    const place = order.indexOf(one.standing);
    return place < 0 ? order.length : place;
  };
  return [...entries].sort((a, b) => rank(a) - rank(b) || a.name.localeCompare(b.name));
}

/** A path in one line, whatever is in it. */
export function shown(path: string): string {
  return path.replace(/\p{Cc}/gu, (c) => `\\x${c.charCodeAt(0).toString(16).padStart(2, '0')}`);
}
