import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { api, body } from '../../api/client';
import { NO_NAMES, type Names } from './completion';

/** The names of all that is defined, and those of the jobs at hand. */
export function useNames(jobs: string[]): Names {
  const all = useQuery({
    queryKey: ['definitions', 'names'],
    queryFn: () => body(api.GET('/api/v1/definitions', { params: { query: { texts: false } } })),
    staleTime: 30_000,
  });
  const own = jobs.join('\n');
  return useMemo(() => {
    const of = (kind: string) =>
      (all.data ?? []).filter((one) => one.kind === kind).map((one) => one.name);
    return all.data
      ? {
          jobs: own === '' ? [] : own.split('\n'),
          hosts: of('host'),
          groups: of('host-group'),
          calendars: of('business-calendar'),
          recipients: [...of('recipient'), ...of('duty')],
          capacities: of('capacity'),
          watches: of('file-watch'),
          templates: of('template'),
          streams: of('stream'),
          connections: of('connection'),
        }
      : NO_NAMES;
  }, [all.data, own]);
}
