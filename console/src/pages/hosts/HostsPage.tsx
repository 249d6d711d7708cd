import { Box, Paper, Stack, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { api, body, type Schemas } from '../../api/client';
import { useNow } from '../../api/live';
import { Notice, Waiting } from '../../parts/Notice';
import { StateIcon } from '../../parts/StateMark';
import { clock, span } from '../../parts/time';

type Host = Schemas['HostView'];

/** Hosts with what their agents say. */
export function HostsPage() {
  const now = useNow();
  const hosts = useQuery({
    queryKey: ['hosts'],
    queryFn: () => body(api.GET('/api/v1/hosts')),
    refetchInterval: 5_000,
  });
  if (!hosts.data) {
    return <Waiting error={hosts.error} what="Hosts" />;
  }
  const away = hosts.data.filter((host) => !host.connected).length;
  return (
    <Stack sx={{ gap: 2 }}>
      <Box>
        <Typography variant="h1">Hosts</Typography>
        <Typography color="textSecondary">
          {hosts.data.length - away} of {hosts.data.length} connected
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
          <HostCard key={host.name} host={host} now={now} />
        ))}
      </Box>
    </Stack>
  );
}

function HostCard({ host, now }: { host: Host; now: number }) {
  const state = host.connected ? 'connected' : host.enrolled ? 'not connected' : 'not enrolled';
  const difference = Math.abs(host.clockDifferenceMillis ?? 0);
  return (
    <Paper
      sx={(t) => ({
        p: 2,
        borderLeft: `5px solid ${t.states[host.connected ? 'running' : 'failed'].edge}`,
      })}
    >
      <Typography variant="h2">{host.title}</Typography>
      <Typography variant="body2" color="textSecondary">
        {host.name}
      </Typography>
      <Typography
        component="div"
        sx={{ display: 'flex', alignItems: 'center', gap: 0.7, fontWeight: 650, mt: 1 }}
      >
        <StateIcon state={host.connected ? 'succeeded' : 'failed'} />
        {state}
        {host.since && ` for ${span(now - Date.parse(host.since))}`}
      </Typography>
      <Typography variant="body2">
        {host.running === 0
          ? 'nothing is running on it'
          : `${host.running} ${host.running === 1 ? 'run is' : 'runs are'} running on it`}
      </Typography>
      <Typography variant="body2" color="textSecondary">
        {host.lastSeen ? `last heard ${clock(host.lastSeen, now)}` : 'never heard'}
        {host.version && ` · agent ${host.version}`}
      </Typography>
      {difference > 2000 && (
        <Typography variant="body2" color="error">
          its clock is {span(difference)}{' '}
          {(host.clockDifferenceMillis ?? 0) > 0 ? 'ahead' : 'behind'}
        </Typography>
      )}
      <Typography variant="body2" color="textSecondary">
        labels {host.labels.join(', ') || 'none'}
        {host.groups.length > 0 && ` · in ${host.groups.join(', ')}`}
      </Typography>
    </Paper>
  );
}
