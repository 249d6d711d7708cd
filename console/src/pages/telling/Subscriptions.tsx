import {
  Alert as Said,
  Button,
  Checkbox,
  FormControlLabel,
  Paper,
  Stack,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TextField,
  Typography,
} from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, body, type Schemas } from '../../api/client';
import { useNow } from '../../api/live';
import { Waiting } from '../../parts/Notice';
import { clock } from '../../parts/time';
import { useDoing } from '../../parts/doing';

type Subscription = Schemas['SubscriptionView'];
type Request = Schemas['SubscriptionRequest'];

const topics = ['alerts', 'commitments', 'files', 'runs'];

/** Programs that are told of what happens, how far each has come, and what keeps it back. */
export function Subscriptions({ mayAct }: { mayAct: boolean }) {
  const now = useNow();
  const { act, problem } = useDoing('subscriptions');
  const all = useQuery({
    queryKey: ['subscriptions'],
    queryFn: () => body(api.GET('/api/v1/subscriptions')),
    refetchInterval: 10_000,
  });
  if (!all.data) {
    return <Waiting error={all.error} what="Subscriptions" />;
  }
  const end = (id: number) =>
    act(() => body(api.DELETE('/api/v1/subscriptions/{id}', { params: { path: { id } } })));
  return (
    <section>
      <Typography variant="h2">Subscriptions</Typography>
      <Typography color="textSecondary" sx={{ mb: 1 }}>
        Programs that are told of what happens, by HTTP POST of CloudEvents, in order. Each ends
        with the rights of whoever made it.
      </Typography>
      {mayAct && <Newcomer />}
      {problem && <Said severity="error">{problem}</Said>}
      {all.data.length > 0 && (
        <Paper sx={{ mt: 1.5, overflowX: 'auto' }}>
          <Table size="small">
            <TableHead>
              <TableRow>
                {['Topics', 'Only', 'To', 'By', 'Stands', 'Last arrived', ''].map((name) => (
                  <TableCell key={name}>{name}</TableCell>
                ))}
              </TableRow>
            </TableHead>
            <TableBody>
              {all.data.map((one) => (
                <TableRow key={one.id} sx={{ opacity: one.state === 'over' ? 0.6 : 1 }}>
                  <TableCell>{one.topics.join(', ')}</TableCell>
                  <TableCell>{onlyOf(one)}</TableCell>
                  <TableCell sx={{ wordBreak: 'break-all' }}>{one.address}</TableCell>
                  <TableCell>{one.owner}</TableCell>
                  <TableCell>
                    {one.state === 'over' ? `over: ${one.note}` : <Standing one={one} now={now} />}
                  </TableCell>
                  <TableCell>{lastOf(one, now)}</TableCell>
                  <TableCell align="right">
                    {mayAct && one.state === 'on' && (
                      <Button size="small" onClick={() => void end(one.id)}>
                        End
                      </Button>
                    )}
                  </TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
        </Paper>
      )}
    </section>
  );
}

function onlyOf(one: Subscription): string {
  return [one.department, one.stream, one.kind].filter(Boolean).join(', ') || 'all';
}

function lastOf(one: Subscription, now: number): string {
  const times = one.places.flatMap((place) => place.delivered ?? []).sort();
  const last = times.at(-1);
  return last ? clock(last, now, false) : 'never';
}

function Standing({ one, now }: { one: Subscription; now: number }) {
  const stuck = one.places.filter((place) => place.tries > 0);
  if (stuck.length === 0) {
    return <>well</>;
  }
  return (
    <>
      {stuck.map((place) => (
        <Typography key={place.topic} variant="body2" color="error">
          {place.topic}: {place.lastError}; next try {clock(place.nextTry, now, false)}
        </Typography>
      ))}
    </>
  );
}

function Newcomer() {
  const [chosen, setChosen] = useState<string[]>([]);
  const [address, setAddress] = useState('');
  const [stream, setStream] = useState('');
  const [kind, setKind] = useState('');
  const { act, problem, busy } = useDoing('subscriptions');
  const add = async () => {
    const request = { topics: chosen, address: address.trim(), stream, kind } as Request;
    if (await act(() => body(api.POST('/api/v1/subscriptions', { body: request })))) {
      setAddress('');
    }
  };
  return (
    <Stack sx={{ gap: 1 }}>
      <Stack direction="row" sx={{ gap: 1, alignItems: 'center', flexWrap: 'wrap' }}>
        {topics.map((topic) => (
          <FormControlLabel
            key={topic}
            control={
              <Checkbox
                size="small"
                checked={chosen.includes(topic)}
                onChange={(e) =>
                  setChosen(
                    e.target.checked ? [...chosen, topic] : chosen.filter((one) => one !== topic),
                  )
                }
              />
            }
            label={topic}
          />
        ))}
        <TextField
          size="small"
          label="Address"
          value={address}
          onChange={(e) => setAddress(e.target.value)}
          sx={{ width: 280 }}
        />
        <TextField
          size="small"
          label="Only of stream"
          value={stream}
          onChange={(e) => setStream(e.target.value)}
          sx={{ width: 160 }}
        />
        <TextField
          size="small"
          label="Only of kind or state"
          value={kind}
          onChange={(e) => setKind(e.target.value)}
          sx={{ width: 170 }}
        />
        <Button
          variant="outlined"
          disabled={busy || chosen.length === 0 || !address.trim()}
          onClick={() => void add()}
        >
          Subscribe
        </Button>
      </Stack>
      {problem && <Said severity="error">{problem}</Said>}
    </Stack>
  );
}
