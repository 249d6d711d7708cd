import {
  Alert as Said,
  Button,
  Paper,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  Typography,
} from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, body, type Schemas } from '../../api/client';
import { useDoing } from '../../parts/doing';
import { Waiting } from '../../parts/Notice';

type Connection = Schemas['ConnectionView'];
type Trial = Schemas['ReachedView'];

/** Every connection, how it signs in, what uses it, and what came of trying it. */
export function Connections({ mayAct }: { mayAct: boolean }) {
  const [trials, setTrials] = useState<Record<string, Trial>>({});
  const { act, problem, busy } = useDoing();
  const all = useQuery({
    queryKey: ['connections'],
    queryFn: () => body(api.GET('/api/v1/connections')),
  });
  if (!all.data) {
    return <Waiting error={all.error} what="Connections" />;
  }
  const attempt = (name: string) =>
    act(async () => {
      const trial = await body(
        api.POST('/api/v1/connections/{name}/trial', {
          params: { path: { name } },
          body: { path: '' },
        }),
      );
      setTrials((before) => ({ ...before, [name]: trial }));
    });
  return (
    <section aria-label="Connections">
      <Typography color="textSecondary">
        Addresses of outside systems. To try one is to sign in and look; nothing is changed there.
      </Typography>
      {problem && <Said severity="error">{problem}</Said>}
      {all.data.length === 0 ? (
        <Typography sx={{ mt: 1 }}>No connection is defined.</Typography>
      ) : (
        <Paper sx={{ mt: 1.5, overflowX: 'auto' }}>
          <Table size="small">
            <TableHead>
              <TableRow>
                {['Name', 'Kind', 'Address', 'Signs in', 'Used by', 'At once', ''].map((name) => (
                  <TableCell key={name}>{name}</TableCell>
                ))}
              </TableRow>
            </TableHead>
            <TableBody>
              {all.data.map((one) => (
                <Row
                  key={one.name}
                  one={one}
                  trial={trials[one.name]}
                  attempt={mayAct ? () => void attempt(one.name) : undefined}
                  busy={busy}
                />
              ))}
            </TableBody>
          </Table>
        </Paper>
      )}
    </section>
  );
}

function Row({
  one,
  trial,
  attempt,
  busy,
}: {
  one: Connection;
  trial: Trial | undefined;
  attempt: (() => void) | undefined;
  busy: boolean;
}) {
  return (
    <>
      <TableRow sx={{ '& td': { borderBottom: trial || one.refused ? 0 : undefined } }}>
        <TableCell>
          <b>{one.name}</b>
          {one.title !== one.name && (
            <Typography variant="body2" color="textSecondary">
              {one.title}
            </Typography>
          )}
        </TableCell>
        <TableCell>{one.kind}</TableCell>
        <TableCell sx={{ wordBreak: 'break-all' }}>
          {one.address}
          {one.through && <Typography variant="body2">through {one.through}</Typography>}
        </TableCell>
        <TableCell>{signsIn(one)}</TableCell>
        <TableCell>{one.usedBy.join(', ') || 'nothing'}</TableCell>
        <TableCell>{one.atMost || 'any number'}</TableCell>
        <TableCell align="right">
          {attempt && (
            <Button size="small" disabled={busy} aria-label={`Try ${one.name}`} onClick={attempt}>
              Try
            </Button>
          )}
        </TableCell>
      </TableRow>
      {(trial || one.refused) && (
        <TableRow>
          <TableCell colSpan={7} sx={{ pt: 0 }}>
            {one.refused && <Said severity="warning">{one.refused}</Said>}
            {trial && (
              <Said severity={trial.good ? 'success' : 'error'}>
                {trial.steps.map((step, index) => (
                  <Typography key={index} variant="body2" sx={{ wordBreak: 'break-word' }}>
                    {step}
                  </Typography>
                ))}
              </Said>
            )}
          </TableCell>
        </TableRow>
      )}
    </>
  );
}

function signsIn(one: Connection): string {
  const who = one.user ? ` as ${one.user}` : '';
  return one.signIn === 'none' && !who ? 'nobody' : `${one.signIn}${who}`;
}
