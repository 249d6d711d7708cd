import {
  Alert as Said,
  Button,
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
import { Notice, Waiting } from '../../parts/Notice';
import { clock } from '../../parts/time';
import { useDoing } from '../../parts/doing';

type Address = Schemas['AddressView'];
type Tried = Schemas['TriedView'];

const words: Record<string, string> = {
  well: 'well',
  failing: 'not reached: tried again',
  refusing: 'wants nothing any more',
  new: 'on its way',
};

/** How the addresses fare to which alerts go, and a test of whom a name reaches. */
export function Addresses({ mayAct }: { mayAct: boolean }) {
  const now = useNow();
  const addresses = useQuery({
    queryKey: ['alert-addresses'],
    queryFn: () => body(api.GET('/api/v1/alert-addresses')),
    refetchInterval: 10_000,
  });
  if (!addresses.data) {
    return <Waiting error={addresses.error} what="Addresses" />;
  }
  const bad = addresses.data.filter((one) => one.state !== 'well' && one.state !== 'new').length;
  return (
    <section>
      <Typography variant="h2">Addresses</Typography>
      <Typography color="textSecondary" sx={{ mb: 1 }}>
        {addresses.data.length === 0
          ? 'Nothing has gone anywhere in the last seven days.'
          : `Of the last seven days; ${
              bad === 0 ? 'all are reached' : `${bad} of ${addresses.data.length} not reached`
            }.`}
      </Typography>
      {mayAct && <Trial />}
      {addresses.data.length > 0 && (
        <Paper sx={{ mt: 1.5, overflowX: 'auto' }}>
          <Table size="small">
            <TableHead>
              <TableRow>
                {['By', 'Address', 'Of', 'State', 'On the way', 'Last arrived', 'Said'].map(
                  (name) => (
                    <TableCell key={name}>{name}</TableCell>
                  ),
                )}
              </TableRow>
            </TableHead>
            <TableBody>
              {addresses.data.map((one) => (
                <Row key={`${one.channel} ${one.address}`} one={one} now={now} />
              ))}
            </TableBody>
          </Table>
        </Paper>
      )}
    </section>
  );
}

function Row({ one, now }: { one: Address; now: number }) {
  const bad = one.state === 'failing' || one.state === 'refusing';
  return (
    <TableRow>
      <TableCell>{one.channel}</TableCell>
      <TableCell sx={{ wordBreak: 'break-all' }}>{one.address}</TableCell>
      <TableCell>{one.recipients.join(', ')}</TableCell>
      <TableCell>
        <Typography variant="body2" color={bad ? 'error' : undefined}>
          {words[one.state] ?? one.state}
        </Typography>
      </TableCell>
      <TableCell>
        {one.pending > 0 && `${one.pending}, next ${clock(one.nextTry, now, false)}`}
      </TableCell>
      <TableCell>{one.delivered ? clock(one.delivered, now, false) : 'never'}</TableCell>
      <TableCell>{one.lastError || one.answer}</TableCell>
    </TableRow>
  );
}

/** Sends a test by every way by which a name is reached now. */
function Trial() {
  const [to, setTo] = useState('');
  const [tried, setTried] = useState<Tried[]>();
  const { act, problem, busy } = useDoing('alert-addresses');
  const attempt = () =>
    act(async () => {
      setTried(undefined);
      setTried(await body(api.POST('/api/v1/alert-trials', { body: { to: to.trim() } })));
    });
  return (
    <Stack sx={{ gap: 1 }}>
      <Stack direction="row" sx={{ gap: 1, alignItems: 'center' }}>
        <TextField
          size="small"
          label="Recipient, duty or person NAME"
          value={to}
          onChange={(e) => setTo(e.target.value)}
          sx={{ width: 280 }}
        />
        <Button variant="outlined" disabled={!to.trim() || busy} onClick={() => void attempt()}>
          Send a test
        </Button>
      </Stack>
      {problem && <Said severity="error">{problem}</Said>}
      {tried?.length === 0 && <Notice title="Nobody is reached" text="The name has no way." />}
      {tried?.map((one, index) => (
        <Said key={index} severity={one.arrived ? 'success' : 'error'}>
          {one.recipient}
          {one.channel && ` by ${one.channel} ${one.address}`}: {one.answer}
        </Said>
      ))}
    </Stack>
  );
}
