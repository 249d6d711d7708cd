import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { api, body, type Run, type Schemas } from '../../api/client';
import { standsBadly } from '../commitments/standing';
import type { StreamDay } from './scale';

export type Deciding = Schemas['DecidingView'];

/** What is promised of a date, and which runs decide when it is kept. */
export interface Marks {
  /** The promises whose end is in a stream. */
  promisesOf: (day: StreamDay) => Deciding[];
  /** The promises whose end is a run. */
  promisesAt: (run: Run) => Deciding[];
  /** Titles of the promises on whose deciding chain a run is. */
  decidesOn: (run: Run) => string[];
  /** The same of a stream, for promises that stand badly. */
  endangers: (day: StreamDay) => string[];
}

export const NO_MARKS: Marks = {
  promisesOf: () => [],
  promisesAt: () => [],
  decidesOn: () => [],
  endangers: () => [],
};

export function marksOf(all: Deciding[]): Marks {
  const byRun = new Map<string, Deciding[]>();
  for (const one of all) {
    for (const run of one.chain) {
      byRun.set(run, [...(byRun.get(run) ?? []), one]);
    }
  }
  const of = (run: Run) => byRun.get(run.reference) ?? [];
  const at = (run: Run) =>
    of(run).filter((one) => one.chain[one.chain.length - 1] === run.reference);
  return {
    promisesOf: (day) => [
      ...day.runs.flatMap(at),
      ...all.filter((one) => one.chain.length === 0 && one.stream === day.stream),
    ],
    promisesAt: at,
    decidesOn: (run) => (run.ended ? [] : of(run).map((one) => one.title)),
    endangers: (day) => [
      ...new Set(
        day.runs
          .filter((run) => !run.ended)
          .flatMap(of)
          .filter((one) => standsBadly(one.standing))
          .map((one) => one.title),
      ),
    ],
  };
}

/** The marks of a business date, kept up to date. */
export function useMarks(date: string): Marks {
  const found = useQuery({
    queryKey: ['today', 'deciding', date],
    queryFn: () => body(api.GET('/api/v1/deciding', { params: { query: date ? { date } : {} } })),
    refetchInterval: 15_000,
  });
  return useMemo(() => (found.data ? marksOf(found.data) : NO_MARKS), [found.data]);
}
