import {
  Box,
  Paper,
  Stack,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  Typography,
} from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { api, body, type Schemas } from '../../api/client';
import { useNow } from '../../api/live';
import { Waiting } from '../../parts/Notice';
import { StateIcon } from '../../parts/StateMark';
import { clock } from '../../parts/time';

type Finding = Schemas['FindingView'];

const words = {
  bad: { title: 'Does not work', state: 'failed' },
  look: { title: 'To look at', state: 'waiting' },
  good: { title: 'As it should be', state: 'succeeded' },
} as const;

/** How Purser itself is: what is wrong, and what to do about it. */
export function HealthPage() {
  const now = useNow();
  const health = useQuery({
    queryKey: ['health'],
    queryFn: () => body(api.GET('/api/v1/health')),
    refetchInterval: 10_000,
  });
  if (!health.data) {
    return <Waiting error={health.error} what="Health" />;
  }
  const { findings, tables } = health.data;
  const bad = findings.filter((one) => one.level === 'bad').length;
  const look = findings.filter((one) => one.level === 'look').length;
  const summary =
    bad + look === 0
      ? 'All is well'
      : [bad && `${bad} bad`, look && `${look} to look at`].filter(Boolean).join(', ');
  return (
    <Stack sx={{ gap: 2 }}>
      <Box>
        <Typography variant="h1">Health</Typography>
        <Typography color="textSecondary">
          {summary} · Purser {health.data.version}, epoch {health.data.epoch} · looked at{' '}
          {clock(health.data.at, now)}
        </Typography>
      </Box>
      {(['bad', 'look', 'good'] as const).map((level) => {
        const some = findings.filter((one) => one.level === level);
        return some.length > 0 && <Findings key={level} level={level} findings={some} />;
      })}
      <Paper sx={{ p: 2 }}>
        <Typography variant="h2">Records</Typography>
        <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
          Kept: {health.data.keeping}. What jobs took is kept longer, for forecasts.
        </Typography>
        <Table size="small" sx={{ maxWidth: 520 }}>
          <TableHead>
            <TableRow>
              <TableCell>Table</TableCell>
              <TableCell align="right">about so many rows</TableCell>
              <TableCell align="right">size</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {tables.slice(0, 8).map((table) => (
              <TableRow key={table.name}>
                <TableCell>{table.name}</TableCell>
                <TableCell align="right">{table.rows.toLocaleString('en-GB')}</TableCell>
                <TableCell align="right">{(table.bytes / 1e6).toFixed(1)} MB</TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      </Paper>
    </Stack>
  );
}

function Findings({ level, findings }: { level: keyof typeof words; findings: Finding[] }) {
  const { title, state } = words[level];
  return (
    <Paper sx={(t) => ({ p: 2, borderLeft: `5px solid ${t.states[state].edge}` })}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        {title}
      </Typography>
      <Stack component="ul" sx={{ gap: 1, m: 0, p: 0, listStyle: 'none' }}>
        {findings.map((one) => (
          <Box
            component="li"
            key={one.about + one.text}
            sx={{ display: 'grid', gridTemplateColumns: '22px 190px 1fr', gap: 1 }}
          >
            <Box sx={{ pt: 0.2 }}>
              <StateIcon state={state} />
            </Box>
            <Typography sx={{ fontWeight: 650 }}>{one.about}</Typography>
            <Box>
              <Typography>{one.text}</Typography>
              {one.remedy && (
                <Typography variant="body2" color="textSecondary">
                  What to do: {one.remedy}
                </Typography>
              )}
            </Box>
          </Box>
        ))}
      </Stack>
    </Paper>
  );
}
