import {
  Alert as Said,
  Button,
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
import { api, body } from '../../api/client';
import { useNow } from '../../api/live';
import { useDoing } from '../../parts/doing';
import { Waiting } from '../../parts/Notice';
import { clock } from '../../parts/time';

/** The secrets that the service keeps: set here, and never shown again. */
export function StoredSecrets() {
  const now = useNow(60_000);
  const { act, problem, busy } = useDoing('stored-secrets', 'secrets');
  const all = useQuery({
    queryKey: ['stored-secrets'],
    queryFn: () => body(api.GET('/api/v1/secrets/stored')),
  });
  if (!all.data) {
    return <Waiting error={all.error} what="Stored secrets" />;
  }
  return (
    <section aria-label="Stored secrets">
      <Typography variant="h2">Stored secrets</Typography>
      <Typography color="textSecondary">
        Kept by the service, encrypted. What is set is never shown again, and replaced by ••• where
        it turns up.
      </Typography>
      {all.data.length > 0 && (
        <Table size="small">
          <TableHead>
            <TableRow>
              {['Name', 'For', 'Used by', 'Set', 'Last used', ''].map((title) => (
                <TableCell key={title}>{title}</TableCell>
              ))}
            </TableRow>
          </TableHead>
          <TableBody>
            {all.data.map((one) => (
              <TableRow key={one.name}>
                <TableCell>{one.name}</TableCell>
                <TableCell>{one.receivers.join(', ') || 'nobody yet'}</TableCell>
                <TableCell>{one.usedBy.join(', ') || 'nothing'}</TableCell>
                <TableCell>
                  {clock(one.since, now)} by {one.who}
                </TableCell>
                <TableCell>{one.used ? clock(one.used, now, false) : 'never'}</TableCell>
                <TableCell align="right">
                  <Button
                    size="small"
                    color="error"
                    aria-label={`Forget ${one.name}`}
                    onClick={() =>
                      act(() =>
                        body(
                          api.DELETE('/api/v1/secrets/stored/{name}', {
                            params: { path: { name: one.name } },
                          }),
                        ),
                      )
                    }
                  >
                    Forget
                  </Button>
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      )}
      <Newcomer act={act} busy={busy} />
      {problem && <Said severity="error">{problem}</Said>}
    </section>
  );
}

function Newcomer({
  act,
  busy,
}: {
  act: (what: () => Promise<unknown>) => Promise<boolean>;
  busy: boolean;
}) {
  const [name, setName] = useState('');
  const [secret, setSecret] = useState('');
  const [receiver, setReceiver] = useState('');
  const keep = async () => {
    const receivers = receiver.trim() ? [receiver.trim()] : [];
    const done = await act(() =>
      body(
        api.PUT('/api/v1/secrets/stored/{name}', {
          params: { path: { name } },
          body: { secret, receivers, reason: '' },
        }),
      ),
    );
    setSecret('');
    if (done) {
      setName('');
      setReceiver('');
    }
  };
  return (
    <Stack direction="row" sx={{ gap: 1, alignItems: 'center', mt: 1.5 }}>
      <TextField size="small" label="Name" value={name} onChange={(e) => setName(e.target.value)} />
      <TextField
        size="small"
        type="password"
        autoComplete="off"
        label="The secret"
        value={secret}
        onChange={(e) => setSecret(e.target.value)}
      />
      <TextField
        size="small"
        label="For a connection or address"
        value={receiver}
        onChange={(e) => setReceiver(e.target.value)}
        sx={{ width: 280 }}
      />
      <Button variant="outlined" disabled={busy || !name || !secret} onClick={() => void keep()}>
        Keep it
      </Button>
    </Stack>
  );
}
