import {
  Alert as Said,
  Autocomplete,
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
import { Waiting } from '../../parts/Notice';
import { clock } from '../../parts/time';
import { Pick } from '../../parts/Pick';
import { useDoing } from '../../parts/doing';

type Planned = Schemas['MaintenanceView'];
type Request = Schemas['MaintenanceRequest'];

const lengths: [number, string][] = [
  [30, '30 minutes'],
  [60, 'one hour'],
  [120, 'two hours'],
  [240, 'four hours'],
  [480, 'eight hours'],
  [1440, 'a day'],
  [10080, 'a week'],
];

/** Times at which nobody is told of a scope, or a host is given no work. */
export function Maintenance({ mayAct }: { mayAct: boolean }) {
  const now = useNow();
  const { act, problem } = useDoing('maintenance');
  const all = useQuery({
    queryKey: ['maintenance'],
    queryFn: () => body(api.GET('/api/v1/maintenance')),
    refetchInterval: 10_000,
  });
  if (!all.data) {
    return <Waiting error={all.error} what="Maintenance" />;
  }
  const end = (id: number) =>
    act(() => body(api.DELETE('/api/v1/maintenance/{id}', { params: { path: { id } } })));
  return (
    <section>
      <Typography variant="h2">Maintenance</Typography>
      <Typography color="textSecondary" sx={{ mb: 1 }}>
        Who is muted is told nothing until then; what is still open then comes as one message. A
        drained host is given no new work.
      </Typography>
      {mayAct && <Newcomer />}
      {problem && <Said severity="error">{problem}</Said>}
      {all.data.length > 0 && (
        <Paper sx={{ mt: 1.5, overflowX: 'auto' }}>
          <Table size="small">
            <TableHead>
              <TableRow>
                {['What', 'Of', 'From', 'Until', 'State', 'By', 'Reason', ''].map((name) => (
                  <TableCell key={name}>{name}</TableCell>
                ))}
              </TableRow>
            </TableHead>
            <TableBody>
              {all.data.map((one) => (
                <TableRow key={one.id} sx={{ opacity: one.state === 'over' ? 0.6 : 1 }}>
                  <TableCell>{one.what === 'mute' ? 'muted' : 'drained'}</TableCell>
                  <TableCell>{aboutOf(one)}</TableCell>
                  <TableCell>{clock(one.from, now, false)}</TableCell>
                  <TableCell>{clock(one.until, now, false)}</TableCell>
                  <TableCell title={one.note}>{one.state}</TableCell>
                  <TableCell>{one.who}</TableCell>
                  <TableCell>{one.reason}</TableCell>
                  <TableCell align="right">
                    {mayAct && one.state !== 'over' && (
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

/** What it is about, in words. */
function aboutOf(one: Planned): string {
  return one.scope === 'site' ? 'the whole site' : `${one.scope} ${one.name}`;
}

/** The names that there are of a scope, in order; of streams, those that hold what is typed. */
function useNames(scope: string, typed: string): string[] {
  const ofHosts = scope === 'host' || scope === 'group';
  const hosts = useQuery({
    queryKey: ['hosts'],
    queryFn: () => body(api.GET('/api/v1/hosts')),
    enabled: ofHosts,
  });
  const streams = useQuery({
    queryKey: ['streams', 'names', scope === 'stream' ? typed : ''],
    queryFn: () =>
      body(
        api.GET('/api/v1/streams', {
          params: { query: { text: scope === 'stream' ? typed : '', limit: 200 } },
        }),
      ),
    enabled: !ofHosts,
    placeholderData: (before) => before,
  });
  const found = {
    host: () => (hosts.data ?? []).map((one) => one.name),
    group: () => (hosts.data ?? []).flatMap((one) => one.groups),
    stream: () => (streams.data ?? []).map((one) => one.stream),
    department: () => (streams.data ?? []).map((one) => one.department).filter(Boolean),
  }[scope];
  return [...new Set(found?.() ?? [])].sort();
}

function Newcomer() {
  const [what, setWhat] = useState('mute');
  const [scope, setScope] = useState('stream');
  const [name, setName] = useState('');
  const [from, setFrom] = useState('');
  const [minutes, setMinutes] = useState(60);
  const [reason, setReason] = useState('');
  const { act, problem, busy } = useDoing('maintenance');
  const scopes = what === 'drain' ? ['host', 'group'] : ['site', 'department', 'stream', 'host'];
  const chosen = scopes.includes(scope) ? scope : (scopes[0] ?? '');
  const names = useNames(chosen, name.trim());
  const add = async () => {
    const begin = from ? Date.parse(from) : Date.now();
    const request = {
      what,
      scope: chosen,
      name: chosen === 'site' ? '' : name.trim(),
      ...(from && { from: new Date(begin).toISOString() }),
      until: new Date(begin + minutes * 60_000).toISOString(),
      reason,
    } as Request;
    if (await act(() => body(api.POST('/api/v1/maintenance', { body: request })))) {
      setName('');
      setReason('');
    }
  };
  return (
    <Stack sx={{ gap: 1 }}>
      <Stack direction="row" sx={{ gap: 1, flexWrap: 'wrap', alignItems: 'center' }}>
        <Pick
          label="What"
          value={what}
          choices={[
            ['mute', 'mute'],
            ['drain', 'drain'],
          ]}
          onPick={setWhat}
        />
        <Pick
          label="Scope"
          value={chosen}
          choices={scopes.map((one): [string, string] => [one, one])}
          onPick={setScope}
        />
        <Autocomplete
          freeSolo
          size="small"
          options={names}
          inputValue={chosen === 'site' ? '' : name}
          disabled={chosen === 'site'}
          onInputChange={(_, typed) => setName(typed)}
          sx={{ width: 230 }}
          renderInput={(field) => <TextField {...field} label="Name" />}
        />
        <TextField
          size="small"
          type="datetime-local"
          label="From; now without"
          value={from}
          onChange={(e) => setFrom(e.target.value)}
          slotProps={{ inputLabel: { shrink: true } }}
        />
        <Pick
          label="For"
          value={String(minutes)}
          choices={lengths.map(([n, title]): [string, string] => [String(n), title])}
          onPick={(n) => setMinutes(Number(n))}
        />
        <TextField
          size="small"
          label="Reason"
          value={reason}
          onChange={(e) => setReason(e.target.value)}
          sx={{ width: 240 }}
        />
        <Button
          variant="outlined"
          disabled={busy || !reason.trim() || (chosen !== 'site' && !name.trim())}
          onClick={() => void add()}
        >
          Plan
        </Button>
      </Stack>
      {problem && <Said severity="error">{problem}</Said>}
    </Stack>
  );
}

/** What is muted now, where somebody could miss an alert; nothing where nothing is. */
export function MutedNow() {
  const now = useNow();
  const all = useQuery({
    queryKey: ['maintenance'],
    queryFn: () => body(api.GET('/api/v1/maintenance')),
    refetchInterval: 30_000,
  });
  return (
    <>
      {(all.data ?? [])
        .filter((one) => one.what === 'mute' && one.state === 'on')
        .map((one) => (
          <Said key={one.id} severity="warning">
            Nobody is told of {aboutOf(one)} until {clock(one.until, now, false)}: {one.reason} (
            {one.who})
          </Said>
        ))}
    </>
  );
}
