import { Box, Button, LinearProgress, Paper, Stack, Typography } from '@mui/material';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, body, type Schemas } from '../../api/client';
import { useNow } from '../../api/live';
import { ActionDialog } from '../../parts/ActionDialog';
import { Notice, Waiting } from '../../parts/Notice';
import { StateIcon } from '../../parts/StateMark';
import { clock, span } from '../../parts/time';

type Host = Schemas['HostView'];
type Machine = Schemas['MachineView'];

const GIGABYTE = 1e9;
const SCARCE = 0.1;

/** Hosts with what their agents say. */
export function HostsPage({ mayAct }: { mayAct: boolean }) {
  const now = useNow();
  const queries = useQueryClient();
  const [asked, setAsked] = useState<Host>();
  const hosts = useQuery({
    queryKey: ['hosts'],
    queryFn: () => body(api.GET('/api/v1/hosts')),
    refetchInterval: 5_000,
  });
  if (!hosts.data) {
    return <Waiting error={hosts.error} what="Hosts" />;
  }
  const away = hosts.data.filter((host) => !host.connected).length;
  const drained = hosts.data.filter((host) => host.drained).length;
  const act = async (host: Host, reason: string) => {
    await body(
      api.POST('/api/v1/hosts/{name}/actions', {
        params: { path: { name: host.name } },
        body: { action: host.drained ? 'return' : 'drain', reason },
      }),
    );
    await queries.invalidateQueries({ queryKey: ['hosts'] });
  };
  return (
    <Stack sx={{ gap: 2 }}>
      <Box>
        <Typography variant="h1">Hosts</Typography>
        <Typography color="textSecondary">
          {hosts.data.length - away} of {hosts.data.length} connected
          {drained > 0 && ` · ${drained} drained`}
        </Typography>
      </Box>
      {hosts.data.length === 0 && (
        <Notice title="There are no hosts yet" text="Define one in a file and publish it." />
      )}
      <Box
        sx={{
          display: 'grid',
          gridTemplateColumns: 'repeat(auto-fill, minmax(290px, 1fr))',
          gap: 2,
        }}
      >
        {hosts.data.map((host) => (
          <HostCard
            key={host.name}
            host={host}
            now={now}
            onAct={mayAct ? () => setAsked(host) : undefined}
          />
        ))}
      </Box>
      {asked && (
        <ActionDialog
          title={asked.drained ? `Return ${asked.title} to work` : `Drain ${asked.title}`}
          verb={asked.drained ? 'Return' : 'Drain'}
          effect={
            asked.drained
              ? 'It is given work again at once.'
              : `What runs on it goes on (${running(asked)}); nothing new starts there until it is returned. Runs that may go elsewhere do; others wait and say so.`
          }
          onClose={() => setAsked(undefined)}
          onDo={(reason) => act(asked, reason)}
        />
      )}
    </Stack>
  );
}

function running(host: Host): string {
  const limit = host.atMost > 0 ? ` of ${host.atMost} at most` : '';
  return host.running === 1 && !limit ? '1 run' : `${host.running}${limit || ' runs'}`;
}

function edge(host: Host): 'running' | 'failed' | 'waiting' {
  if (!host.connected) {
    return 'failed';
  }
  return host.drained ? 'waiting' : 'running';
}

function HostCard({ host, now, onAct }: { host: Host; now: number; onAct?: () => void }) {
  const state = host.connected ? 'connected' : host.enrolled ? 'not connected' : 'not enrolled';
  const difference = Math.abs(host.clockDifferenceMillis ?? 0);
  return (
    <Paper
      sx={(t) => ({
        p: 2,
        borderLeft: `5px solid ${t.states[edge(host)].edge}`,
        display: 'flex',
        flexDirection: 'column',
        gap: 0.4,
      })}
    >
      <Typography variant="h2">{host.title}</Typography>
      <Typography variant="body2" color="textSecondary">
        {host.name}
        {host.groups.length > 0 && ` · in ${host.groups.join(', ')}`}
      </Typography>
      <Typography
        component="div"
        sx={{ display: 'flex', alignItems: 'center', gap: 0.7, fontWeight: 650, mt: 1 }}
      >
        <StateIcon state={host.connected ? 'succeeded' : 'failed'} />
        {state}
        {host.since && ` for ${span(now - Date.parse(host.since))}`}
      </Typography>
      {host.drained && (
        <Typography variant="body2" sx={{ fontWeight: 650 }}>
          {host.drained}; it takes nothing new
        </Typography>
      )}
      {host.planned && <Typography variant="body2">{host.planned}</Typography>}
      <Typography variant="body2">running on it: {running(host)}</Typography>
      {host.machine && <MachineLines machine={host.machine} stale={!host.connected} />}
      {difference > 2000 && (
        <Typography variant="body2" color="error">
          its clock is {span(difference)}{' '}
          {(host.clockDifferenceMillis ?? 0) > 0 ? 'ahead' : 'behind'}; times are corrected by that
        </Typography>
      )}
      <Typography variant="body2" color="textSecondary">
        {host.lastSeen ? `last heard ${clock(host.lastSeen, now)}` : 'never heard'}
        {host.version && ` · agent ${host.version}`}
      </Typography>
      <Typography variant="body2" color="textSecondary" sx={{ flex: 1 }}>
        labels {host.labels.join(', ') || 'none'}
      </Typography>
      {onAct && (
        <Box>
          <Button size="small" variant="outlined" onClick={onAct} sx={{ mt: 0.5 }}>
            {host.drained ? 'Return to work' : 'Drain'}
          </Button>
        </Box>
      )}
    </Paper>
  );
}

function MachineLines({ machine, stale }: { machine: Machine; stale: boolean }) {
  return (
    <Stack sx={{ gap: 0.6, my: 0.6, opacity: stale ? 0.55 : 1 }}>
      {machine.load >= 0 && (
        <Level
          name={`load ${machine.load.toFixed(1)} on ${machine.cores} ${machine.cores === 1 ? 'core' : 'cores'}`}
          used={machine.load / machine.cores}
          bad={machine.load > machine.cores * 2}
        />
      )}
      {machine.memory > 0 && machine.memoryFree >= 0 && (
        <Level
          name={`memory ${(machine.memoryFree / GIGABYTE).toFixed(1)} GB free`}
          used={1 - machine.memoryFree / machine.memory}
          bad={machine.memoryFree < machine.memory * SCARCE}
        />
      )}
      {machine.disk > 0 && (
        <Level
          name={`disk ${(machine.diskFree / GIGABYTE).toFixed(1)} GB free`}
          used={1 - machine.diskFree / machine.disk}
          bad={machine.diskFree < machine.disk * SCARCE}
        />
      )}
    </Stack>
  );
}

function Level({ name, used, bad }: { name: string; used: number; bad: boolean }) {
  return (
    <Box>
      <Typography variant="body2" color={bad ? 'error' : 'textSecondary'}>
        {name}
      </Typography>
      <LinearProgress
        variant="determinate"
        aria-label={name}
        value={Math.max(0, Math.min(100, used * 100))}
        color={bad ? 'error' : 'primary'}
        sx={{ height: 5, borderRadius: 3 }}
      />
    </Box>
  );
}
