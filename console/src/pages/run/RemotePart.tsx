import {
  Alert as Said,
  Box,
  Button,
  Link,
  Paper,
  Stack,
  TextField,
  Typography,
} from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, body, type Run, type Schemas } from '../../api/client';
import { useNow } from '../../api/live';
import { useDoing } from '../../parts/doing';
import { Waiting } from '../../parts/Notice';
import { clock } from '../../parts/time';
import { mono } from '../../theme';

type Call = Schemas['CallView'];

/** What runs at a remote service for this run; and where nobody knows it, the place to say so. */
export function RemotePart({ run, mayAct }: { run: Run; mayAct: boolean }) {
  const now = useNow();
  const calls = useQuery({
    queryKey: ['run', run.id, 'remote'],
    queryFn: () => body(api.GET('/api/v1/runs/{id}/remote', { params: { path: { id: run.id } } })),
    refetchInterval: run.ended ? false : 5_000,
  });
  if (!calls.data) {
    return <Waiting error={calls.error} what="What runs there" />;
  }
  const last = calls.data.at(-1);
  if (!last) {
    return null;
  }
  return (
    <Paper component="section" aria-label="At the remote service" sx={{ p: 2 }}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        At {last.service}
      </Typography>
      {calls.data.map((call) => (
        <Standing key={call.attempt} call={call} many={calls.data.length > 1} now={now} />
      ))}
      {mayAct && last.phase === 'person' && <Saying run={run} service={last.service} />}
    </Paper>
  );
}

function Standing({ call, many, now }: { call: Call; many: boolean; now: number }) {
  return (
    <Box sx={{ py: 0.5 }}>
      <Stack direction="row" sx={{ gap: 2, alignItems: 'baseline', flexWrap: 'wrap' }}>
        {many && <Typography color="textSecondary">Attempt {call.attempt}</Typography>}
        {call.id && (
          <Typography>
            <b style={{ fontFamily: mono }}>{call.id}</b>
          </Typography>
        )}
        {call.state && <Typography>there {call.state}</Typography>}
        {call.progress && <Typography>{call.progress}</Typography>}
        {isAddress(call.link) && (
          <Link href={call.link} target="_blank" rel="noopener noreferrer">
            look there
          </Link>
        )}
        <Typography color="textSecondary">since {clock(call.begun, now)}</Typography>
      </Stack>
      {call.error && <Typography color="error">{call.error}</Typography>}
      {call.awaySince && (
        <Typography color="error">
          It has not answered since {clock(call.awaySince, now)}; that is borne for a while.
        </Typography>
      )}
    </Box>
  );
}

/** A link is the other side's word: only an address that a browser opens as a page is one. */
function isAddress(link: string): boolean {
  return /^https?:\/\//i.test(link);
}

function Saying({ run, service }: { run: Run; service: string }) {
  const [id, setId] = useState('');
  const { act, problem, busy } = useDoing('run');
  const say = (says: string, as: string) =>
    act(() =>
      body(
        api.POST('/api/v1/runs/{id}/remote', {
          params: { path: { id: run.id } },
          body: { says, id: as, reason: '' },
        }),
      ),
    );
  return (
    <Stack sx={{ gap: 1, mt: 1 }}>
      <Said severity="warning">
        {service} was asked, and did not say whether it has begun. Look there: whether it has, and
        by which id. It is not asked again before you have said so.
      </Said>
      <Stack direction="row" sx={{ gap: 1, alignItems: 'center' }}>
        <TextField
          size="small"
          label="It runs there as"
          value={id}
          onChange={(e) => setId(e.target.value)}
        />
        <Button
          variant="outlined"
          disabled={busy || !id.trim()}
          onClick={() => void say('runs-as', id.trim())}
        >
          Follow it
        </Button>
        <Typography color="textSecondary">or</Typography>
        <Button variant="outlined" disabled={busy} onClick={() => void say('did-not-start', '')}>
          It did not start: ask again
        </Button>
      </Stack>
      {problem && <Said severity="error">{problem}</Said>}
    </Stack>
  );
}
