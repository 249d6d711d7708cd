import type { Schemas } from '../../api/client';

type Result = Schemas['PublishResult'];
type Open = Schemas['OpenRunView'];

/** From when a change holds, and what a person reads of it. */
export const HOLDS: readonly { from: string; text: string }[] = [
  { from: 'planned', text: 'what has not begun' },
  { from: 'next-date', text: 'the next business date' },
  { from: 'date', text: 'a date…' },
  { from: 'now', text: 'now, also what waits or has failed' },
  { from: 'running', text: 'now, also what runs (stopped, tried again)' },
];

/** Whether a choice is a date, given or still to be typed. */
export function isDate(from: string): boolean {
  return from === 'date' || /^\d{4}-/.test(from);
}

/** What the service is asked; as if nothing was said while a date is not typed yet. */
export function holds(from: string): Schemas['HoldsRequest'] {
  return { from: from === 'date' ? 'planned' : from, ofStreams: {} };
}

const times = (count: number, one: string, many: string) => `${count} ${count === 1 ? one : many}`;

/** What a publication came to, in a sentence or two. */
export function published(result: Result): string {
  if (result.goesLive) {
    return `Kept as draft ${result.draft}: it goes live by itself, and holds from business date ${result.goesLive}.`;
  }
  const begun = [
    result.runsTaken > 0 &&
      `${times(result.runsTaken, 'run that had begun takes it', 'runs that had begun take it')}`,
    result.runsStopped > 0 &&
      `${times(result.runsStopped, 'attempt is being stopped and tried again', 'attempts are being stopped and tried again')} with it`,
  ].filter(Boolean);
  return (
    `Revision ${result.revision} is in force; runs of today and tomorrow: ${result.runsPlanned} planned, ` +
    `${result.runsChanged} changed, ${result.runsWithdrawn} withdrawn` +
    begun.map((one) => `; ${one}`).join('') +
    '.'
  );
}

const becomes: Partial<Record<string, string>> = {
  takes: 'takes the new version',
  replaced: 'takes the new version by another attempt',
  gone: 'is taken off the plan',
};

/** What becomes of a run that is there and not over. */
export function fate(run: Open): string {
  const what = becomes[run.what] ?? 'keeps the old version';
  return run.because === '' ? what : `${what}: ${run.because}`;
}

/** How many that are only planned share a fate, most first. */
export function ofPlanned(open: readonly Open[]): [string, number][] {
  const counts = new Map<string, number>();
  for (const run of open.filter((one) => one.state === 'planned')) {
    counts.set(fate(run), (counts.get(fate(run)) ?? 0) + 1);
  }
  return [...counts].sort((a, b) => b[1] - a[1]);
}

/** Those that change first, for they are what a person should look at. */
export function byFate(open: readonly Open[]): Open[] {
  return [...open].sort((a, b) => Number(a.what === 'keeps') - Number(b.what === 'keeps'));
}
