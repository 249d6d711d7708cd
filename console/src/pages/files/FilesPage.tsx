import { Box, Button, MenuItem, Stack, Tab, Tabs, TextField, Typography } from '@mui/material';
import {
  keepPreviousData,
  useInfiniteQuery,
  useQuery,
  useQueryClient,
} from '@tanstack/react-query';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { api, body } from '../../api/client';
import { DateField } from '../../parts/DateField';
import { useNow } from '../../api/live';
import { ActionDialog } from '../../parts/ActionDialog';
import { Notice, Waiting } from '../../parts/Notice';
import { Arrivals, type Arrival, type Decision } from './Arrivals';
import { Checklist, type Watch } from './Checklist';
import { TryDialog } from './TryDialog';

const REFRESH_MILLIS = 3_000;
const PAGE = 100;
const states = [
  'seen',
  'settling',
  'ready',
  'taken',
  'used',
  'unprocessed',
  'rejected',
  'ignored',
] as const;

interface Asked {
  decision: Decision;
  arrivals: Arrival[];
}

const decisions: Record<Decision, { title: string; verb: string; effect: string }> = {
  retry: {
    title: 'Try again',
    verb: 'Try again',
    effect:
      'The run that failed starts again with the same file. A file that no run has is free for the next one that wants it.',
  },
  'put-aside': {
    title: 'Put aside',
    verb: 'Put aside',
    effect:
      'No run gets it any more, and a run that failed with it is skipped, with all of the start that it began. The file itself stays where it is.',
  },
  done: {
    title: 'Mark as done',
    verb: 'Mark as done',
    effect:
      'It counts as used, and is moved or removed as the watch says. A run that failed with it counts as succeeded, and what waits for that goes on. Say how it was dealt with: a reason is needed.',
  },
};

/** Files: the day's checklist, what has arrived, and what was not processed. */
export function FilesPage({ today, mayAct }: { today: string; mayAct: boolean }) {
  const now = useNow();
  const queries = useQueryClient();
  const [params, setParams] = useSearchParams();
  const [tried, setTried] = useState<Watch>();
  const [asked, setAsked] = useState<Asked>();
  const view = params.get('view') ?? 'checklist';
  const date = params.get('date') ?? today;
  const change = (changes: Record<string, string>) => {
    const next = new URLSearchParams(params);
    Object.entries(changes).forEach(([key, value]) =>
      value ? next.set(key, value) : next.delete(key),
    );
    setParams(next, { replace: true });
  };
  const watches = useQuery({
    queryKey: ['watches', date],
    queryFn: () => body(api.GET('/api/v1/watches', { params: { query: { date } } })),
    refetchInterval: REFRESH_MILLIS,
    placeholderData: keepPreviousData,
  });
  const unprocessed = useArrivals({ state: 'unprocessed,rejected', watch: '', text: '' });
  if (!watches.data) {
    return <Waiting error={watches.error} what="Files" />;
  }
  const waiting = unprocessed.data?.pages[0]?.total ?? 0;
  const bad = watches.data.filter((one) => ['missing', 'overdue'].includes(one.standing)).length;
  const decide = async (reason: string) => {
    if (!asked) {
      return;
    }
    const results = await body(
      api.POST('/api/v1/arrivals/actions', {
        body: { arrivals: asked.arrivals.map((one) => one.id), action: asked.decision, reason },
      }),
    );
    await queries.invalidateQueries({ queryKey: ['arrivals'] });
    const refused = results.filter((one) => !one.done);
    if (refused.length > 0) {
      throw new Error(refused.map((one) => `${one.path || one.id}: ${one.refusal}`).join('; '));
    }
  };
  return (
    <Stack sx={{ gap: 2 }}>
      <Box sx={{ display: 'flex', alignItems: 'end', gap: 2 }}>
        <Box sx={{ flex: 1 }}>
          <Typography variant="h1">Files</Typography>
          <Typography color="textSecondary">
            {summary(watches.data.length, bad, waiting)}
          </Typography>
        </Box>
        {view === 'checklist' && (
          <DateField
            label="Business date"
            value={date}
            onChange={(chosen) => change({ date: chosen === today ? '' : chosen })}
          />
        )}
      </Box>
      <Tabs value={view} onChange={(_, next: string) => change({ view: next })}>
        <Tab value="checklist" label={`Expected on ${date}`} />
        <Tab value="arrivals" label="Arrivals" />
        <Tab value="unprocessed" label={`Not processed${waiting > 0 ? ` (${waiting})` : ''}`} />
      </Tabs>
      {view === 'checklist' &&
        (watches.data.length === 0 ? (
          <Notice
            title="No files are looked for"
            text="Define a file watch in a file and publish it."
          />
        ) : (
          <Checklist
            watches={watches.data}
            now={now}
            onShow={(watch) => change({ view: 'arrivals', watch })}
            onTry={setTried}
          />
        ))}
      {view === 'arrivals' && (
        <Found
          watches={watches.data}
          watch={params.get('watch') ?? ''}
          state={params.get('state') ?? ''}
          text={params.get('text') ?? ''}
          now={now}
          onChange={change}
        />
      )}
      {view === 'unprocessed' && (
        <List
          query={unprocessed}
          now={now}
          empty="Every file that came was dealt with"
          onDecide={mayAct ? (decision, arrivals) => setAsked({ decision, arrivals }) : undefined}
        />
      )}
      {tried && <TryDialog watch={tried} now={now} onClose={() => setTried(undefined)} />}
      {asked && (
        <ActionDialog
          title={`${decisions[asked.decision].title}: ${asked.arrivals.map((one) => one.name).join(', ')}`}
          verb={decisions[asked.decision].verb}
          effect={decisions[asked.decision].effect}
          onClose={() => setAsked(undefined)}
          onDo={decide}
        />
      )}
    </Stack>
  );
}

function summary(watches: number, bad: number, waiting: number): string {
  const parts = [watches === 1 ? '1 watch' : `${watches} watches`];
  parts.push(bad === 0 ? 'nothing overdue' : `${bad} overdue or missing`);
  if (waiting > 0) {
    parts.push(
      waiting === 1 ? '1 file waits for a decision' : `${waiting} files wait for a decision`,
    );
  }
  return parts.join(' · ');
}

interface Wanted {
  state: string;
  watch: string;
  text: string;
}

function useArrivals(wanted: Wanted) {
  return useInfiniteQuery({
    queryKey: ['arrivals', wanted],
    queryFn: ({ pageParam }) =>
      body(
        api.GET('/api/v1/arrivals', {
          params: { query: { ...wanted, before: pageParam, limit: PAGE } },
        }),
      ),
    initialPageParam: 0,
    getNextPageParam: (page) => (page.next > 0 ? page.next : undefined),
    refetchInterval: REFRESH_MILLIS,
    placeholderData: keepPreviousData,
  });
}

interface ListProps {
  query: ReturnType<typeof useArrivals>;
  now: number;
  empty: string;
  onDecide?: (decision: Decision, arrivals: Arrival[]) => void;
}

function List({ query, now, empty, onDecide }: ListProps) {
  if (!query.data) {
    return <Waiting error={query.error} what="Arrivals" />;
  }
  const arrivals = query.data.pages.flatMap((page) => page.arrivals);
  if (arrivals.length === 0) {
    return <Notice title={empty} text="Nothing to be done here." />;
  }
  return (
    <>
      <Arrivals arrivals={arrivals} now={now} onDecide={onDecide} />
      {query.hasNextPage && (
        <Box>
          <Button onClick={() => query.fetchNextPage()}>Show older ones</Button>
        </Box>
      )}
    </>
  );
}

interface FoundProps extends Wanted {
  watches: Watch[];
  now: number;
  onChange: (changes: Record<string, string>) => void;
}

function Found({ watches, watch, state, text, now, onChange }: FoundProps) {
  const query = useArrivals({ watch, state, text });
  return (
    <Stack sx={{ gap: 1.5 }}>
      <Stack direction="row" sx={{ gap: 1.5 }}>
        <TextField
          select
          size="small"
          label="Watch"
          value={watch}
          onChange={(e) => onChange({ watch: e.target.value })}
          sx={{ minWidth: 220 }}
        >
          <MenuItem value="">all</MenuItem>
          {watches.map((one) => (
            <MenuItem key={one.name} value={one.name}>
              {one.name}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          select
          size="small"
          label="State"
          value={state}
          onChange={(e) => onChange({ state: e.target.value })}
          sx={{ minWidth: 160 }}
        >
          <MenuItem value="">all</MenuItem>
          {states.map((one) => (
            <MenuItem key={one} value={one}>
              {one}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          size="small"
          label="Part of the name"
          value={text}
          onChange={(e) => onChange({ text: e.target.value })}
        />
      </Stack>
      <List query={query} now={now} empty="No file fits" />
    </Stack>
  );
}
