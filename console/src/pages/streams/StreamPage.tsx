import { Box, Button, Paper, Stack, Typography } from '@mui/material';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams, useSearchParams } from 'react-router';
import { api, body, Refusal, type Schemas } from '../../api/client';
import { useNow } from '../../api/live';
import { Notice, Waiting } from '../../parts/Notice';
import { clock } from '../../parts/time';
import { mono } from '../../theme';
import { PausedMark } from './PausedMark';
import { streamAddress } from './address';
import { StreamDay } from './StreamDay';
import { StreamDialog } from './StreamDialog';

type Stream = Schemas['StreamView'];

/** A stream: what it is for, its schedule, its next starts with their reasons, its windows. */
export function StreamPage({ mayAct }: { mayAct: boolean }) {
  const name = useParams()['*'] ?? '';
  const [asking, setAsking] = useState<'pause' | 'resume' | 'fill' | ''>('');
  const queries = useQueryClient();
  const stream = useQuery({
    queryKey: ['streams', name],
    queryFn: () => body(api.GET('/api/v1/streams/one', { params: { query: { stream: name } } })),
    retry: false,
  });
  if (stream.error instanceof Refusal && stream.error.status === 404) {
    return <Step path={name} mayAct={mayAct} />;
  }
  if (!stream.data) {
    return <Waiting error={stream.error} what="The stream" />;
  }
  const one = stream.data;
  return (
    <Stack sx={{ gap: 2 }}>
      <Stack direction="row" sx={{ alignItems: 'flex-start', gap: 2 }}>
        <Box sx={{ flex: 1 }}>
          <Typography variant="h1">{one.title}</Typography>
          <Typography color="textSecondary">
            {one.stream} · {one.department} · {one.jobs} {one.jobs === 1 ? 'job' : 'jobs'}
            {one.about && ` · ${one.about}`}
          </Typography>
          {one.schedule.map((entry) => (
            <Typography key={entry} sx={{ fontFamily: mono, fontSize: '0.9rem', mt: 0.5 }}>
              {entry}
            </Typography>
          ))}
          <Typography variant="body2" color="textSecondary" sx={{ mt: 0.4 }}>
            {one.schedule.length === 0
              ? one.startsOn
                ? `It has no schedule: files of ${one.startsOn} start it.`
                : 'It has no schedule: people start it.'
              : `Business days are those of ${one.calendar || 'Monday to Friday'}.`}
          </Typography>
        </Box>
        {one.pause && (
          <Box sx={{ textAlign: 'right', maxWidth: 330 }}>
            <PausedMark pause={one.pause} />
            <Typography variant="body2" color="textSecondary" sx={{ mt: 0.5 }}>
              by {one.pause.who}
              {one.pause.reason && `: ${one.pause.reason}`}
            </Typography>
          </Box>
        )}
        {mayAct && one.schedule.length > 0 && (
          <Button variant="outlined" onClick={() => setAsking(one.pause ? 'resume' : 'pause')}>
            {one.pause ? 'Resume' : 'Pause'}
          </Button>
        )}
        {mayAct && one.windows && (
          <Button variant="outlined" onClick={() => setAsking('fill')}>
            Fill in windows
          </Button>
        )}
      </Stack>
      <StreamDay stream={name} mayAct={mayAct} />
      {one.windows && <Windows stream={name} />}
      {one.schedule.length > 0 && <NextStarts stream={one} />}
      {one.schedule.length > 0 && (
        <Typography variant="body2" color="textSecondary">
          To see its starts in a calendar program, subscribe to{' '}
          <Box component="span" sx={{ fontFamily: mono }}>
            {`${window.location.origin}/api/v1/streams/feed?stream=${one.stream}`}
          </Box>{' '}
          with your name, and a token as the password.
        </Typography>
      )}
      {asking && (
        <StreamDialog
          kind={asking}
          stream={one}
          onClose={() => setAsking('')}
          onDone={() => queries.invalidateQueries({ queryKey: ['streams'] })}
        />
      )}
    </Stack>
  );
}

/** A stream as a step of another one uses it, with the way back. */
function Step({ path, mayAct }: { path: string; mayAct: boolean }) {
  const [address] = useSearchParams();
  const above = path.slice(0, Math.max(path.lastIndexOf('/'), 0));
  return (
    <Stack sx={{ gap: 2 }}>
      <Box>
        <Typography variant="body2">
          <Link to={`${streamAddress(above)}?${address}`} style={{ color: 'inherit' }}>
            ← {above}
          </Link>
        </Typography>
        <Typography variant="h1">{path.slice(path.lastIndexOf('/') + 1)}</Typography>
        <Typography color="textSecondary">{path}, a stream that runs as a step</Typography>
      </Box>
      <StreamDay stream={path} mayAct={mayAct} />
    </Stack>
  );
}

const shifts: Partial<Record<string, string>> = {
  skipped: 'the clock skips this time: at the first instant after it',
  twice: 'the clock shows this time twice: the first time',
};

function NextStarts({ stream }: { stream: Stream }) {
  const now = useNow(30_000);
  const [count, setCount] = useState(12);
  const next = useQuery({
    queryKey: ['streams', stream.stream, 'next', count],
    queryFn: () =>
      body(
        api.GET('/api/v1/streams/next', {
          params: { query: { stream: stream.stream, count } },
        }),
      ),
    refetchInterval: 60_000,
  });
  if (!next.data) {
    return <Waiting error={next.error} what="Next starts" />;
  }
  if (next.data.length === 0) {
    return (
      <Notice title="No coming start" text="Its schedule picks no day in the next two years." />
    );
  }
  return (
    <Paper>
      <Typography variant="h2" sx={{ px: 2, pt: 1.5, pb: 0.5 }}>
        Next starts
      </Typography>
      {next.data.map((start) => (
        <Box
          key={`${start.date}#${start.number}`}
          sx={{
            display: 'grid',
            gridTemplateColumns: '150px 160px 90px 1fr',
            gap: 2,
            px: 2,
            py: 0.7,
            borderTop: '1px solid',
            borderColor: 'divider',
            opacity: start.guess || start.paused ? 0.75 : 1,
          }}
        >
          <Typography sx={{ fontWeight: 600 }}>
            {start.date} #{start.number}
          </Typography>
          <Typography>{clock(start.at, now, false)}</Typography>
          <Typography color="textSecondary">
            {start.runs} {start.runs === 1 ? 'run' : 'runs'}
          </Typography>
          <Typography variant="body2" color="textSecondary" sx={{ alignSelf: 'center' }}>
            {start.paused && <b>paused, it will not start · </b>}
            {start.guess && <b>a guess · </b>}
            {start.shift && <b>{shifts[start.shift] ?? start.shift} · </b>}
            {start.windowStart
              ? `window from ${clock(start.windowStart, now, false)} to ${clock(start.windowEnd, now, false)}`
              : start.reason}
          </Typography>
        </Box>
      ))}
      {count < 200 && next.data.length === count && (
        <Button onClick={() => setCount(count * 4)} sx={{ m: 1 }}>
          More
        </Button>
      )}
    </Paper>
  );
}

function Windows({ stream }: { stream: string }) {
  const now = useNow(30_000);
  const windows = useQuery({
    queryKey: ['streams', stream, 'windows'],
    queryFn: () =>
      body(api.GET('/api/v1/streams/windows', { params: { query: { stream, limit: 120 } } })),
    refetchInterval: 10_000,
  });
  if (!windows.data) {
    return <Waiting error={windows.error} what="Windows" />;
  }
  const count = (state: string) => windows.data.filter((one) => one.state === state).length;
  return (
    <Paper sx={{ p: 2 }}>
      <Typography variant="h2">
        Windows: {count('done')} done, {count('open')} open, {count('failed')} failed
      </Typography>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
        The last {windows.data.length}, oldest first. Each leads to its run.
      </Typography>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: '4px' }}>
        {[...windows.data].reverse().map((one) => {
          const future = Date.parse(one.end ?? '') > now;
          const state =
            one.state === 'done' ? 'succeeded' : one.state === 'failed' ? 'failed' : 'waiting';
          const text = `${one.date}#${one.number}, ${clock(one.start, now, false)} to ${clock(
            one.end,
            now,
            false,
          )}: ${future ? 'to come' : one.state}`;
          return (
            <Box
              key={`${one.date}#${one.number}`}
              component={Link}
              to={`/runs/${one.runs[0]?.id ?? ''}`}
              title={text}
              aria-label={text}
              sx={(t) => ({
                width: 26,
                height: 24,
                display: 'grid',
                placeItems: 'center',
                borderRadius: '5px',
                fontSize: '0.78rem',
                fontWeight: 700,
                textDecoration: 'none',
                color: t.states[future ? 'planned' : state].text,
                background: t.states[future ? 'planned' : state].fill,
                border: `1.5px ${future ? 'dashed' : 'solid'} ${
                  t.states[future ? 'planned' : state].edge
                }`,
              })}
            >
              {one.state === 'done' ? '✓' : one.state === 'failed' ? '!' : future ? '·' : '…'}
            </Box>
          );
        })}
      </Box>
    </Paper>
  );
}
