import {
  Box,
  Button,
  Link as Anchor,
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
import { Link, useParams } from 'react-router';
import { api, body, type Schemas } from '../../api/client';
import { useNow } from '../../api/live';
import { Waiting } from '../../parts/Notice';
import { StateMark } from '../../parts/StateMark';
import { clock } from '../../parts/time';
import { capital } from './CommitmentsPage';
import { Lineage } from './Lineage';
import { Record } from './Record';
import { Scale } from './Scale';
import { lookOf, readPage } from './standing';

type Detail = Schemas['CommitmentDetail'];

/** A promise of a date: what it rests on, why it is as it is, what would help, and its record. */
export function CommitmentPage() {
  const { name = '', date: said } = useParams();
  const { date, number } = readPage(said);
  const now = useNow();
  const found = useQuery({
    queryKey: ['commitment', name, date, number],
    queryFn: () =>
      body(
        api.GET('/api/v1/commitments/{name}', {
          params: { path: { name }, query: { date, number } },
        }),
      ),
    refetchInterval: 10_000,
  });
  if (!found.data) {
    return <Waiting error={found.error} what="Commitment" />;
  }
  const { commitment: one, lineage, why, helps, earlier, cutOff } = found.data;
  return (
    <Stack sx={{ gap: 2 }}>
      <Box>
        <Typography variant="h1">{one.title}</Typography>
        <Typography color="textSecondary">
          {one.about && `${one.about} `}
          {capital(one.promise)} · {one.date}
          {one.number > 1 && `, start ${one.number}`} · {one.department}
        </Typography>
      </Box>
      <Paper sx={{ p: 2 }}>
        <Stack direction="row" sx={{ gap: 1.5, alignItems: 'center', flexWrap: 'wrap', mb: 1 }}>
          <StateMark state={one.standing} look={lookOf(one.standing)} />
          <Typography sx={{ fontWeight: 600 }}>{capital(one.sentence)}.</Typography>
        </Stack>
        <Scale one={one} now={now} />
        <Typography variant="body2" color="textSecondary" sx={{ mt: 1 }}>
          Rests on {one.restsOn}
          {one.samples > 0 && `; the rest of the day was played ${one.samples} times`}.
          {cutOff.length > 0 && ` Left out: ${cutOff.join(', ')}.`}
        </Typography>
      </Paper>
      {helps.length > 0 && <Helps helps={helps} now={now} />}
      {why.length > 0 && one.usual && (
        <Paper sx={{ p: 2 }}>
          <Typography variant="h2">Why it differs from the usual</Typography>
          <Typography color="textSecondary">
            It is usually done at {clock(one.usual, now)}. Along the chain that decides:
          </Typography>
          <Table size="small" sx={{ width: 'auto', mt: 1 }}>
            <TableBody>
              {why.map((cause) => (
                <TableRow key={`${cause.run} ${cause.cause}`}>
                  <TableCell align="right">{minutes(cause.minutes)}</TableCell>
                  <TableCell>{cause.cause}</TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
        </Paper>
      )}
      {lineage.length > 0 && (
        <Paper sx={{ p: 2 }}>
          <Typography variant="h2">What it rests on</Typography>
          <Typography color="textSecondary" sx={{ mb: 1 }}>
            Runs with ▸ decide when it is done; the full line is the promise, the broken one the
            usual end.
          </Typography>
          <Lineage runs={lineage} one={one} now={now} />
        </Paper>
      )}
      <Paper sx={{ p: 2 }}>
        <Typography variant="h2">Kept and missed</Typography>
        <Record earlier={earlier} />
      </Paper>
      {lineage.length > 0 && <List lineage={lineage} now={now} />}
    </Stack>
  );
}

function minutes(value: number): string {
  return `${value > 0 ? '+' : ''}${value.toFixed(1)} min`;
}

function Helps({ helps, now }: { helps: Detail['helps']; now: number }) {
  return (
    <Paper sx={{ p: 2 }}>
      <Typography variant="h2">What would help</Typography>
      <Typography color="textSecondary">
        Each was tried on a copy of the day. Nothing is done by itself.
      </Typography>
      <Stack sx={{ gap: 1, mt: 1 }}>
        {helps.map((help) => (
          <Stack
            key={help.command}
            direction="row"
            sx={{ gap: 2, alignItems: 'center', flexWrap: 'wrap' }}
          >
            <Typography sx={{ flex: '1 1 20rem' }}>
              {capital(help.text)}: {help.end ? `done at ${clock(help.end, now)}, ` : ''}
              {help.chanceLate === undefined || help.chanceLate === null
                ? ''
                : `${Math.round(help.chanceLate * 100)} % likely to be late`}
              {help.cost && `; but ${help.cost}`}
            </Typography>
            <Button
              component={Link}
              to={help.page}
              title={help.command}
              variant="outlined"
              size="small"
            >
              {help.page.startsWith('/runs') ? 'To the run' : 'Where it is done'}
            </Button>
          </Stack>
        ))}
      </Stack>
    </Paper>
  );
}

function List({ lineage, now }: { lineage: Detail['lineage']; now: number }) {
  return (
    <Paper sx={{ p: 2, overflowX: 'auto' }}>
      <Typography variant="h2">The same as a list</Typography>
      <Table size="small">
        <TableHead>
          <TableRow>
            <TableCell>Run</TableCell>
            <TableCell>State</TableCell>
            <TableCell>Start</TableCell>
            <TableCell>End</TableCell>
            <TableCell>Slack</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {lineage.map((run) => (
            <TableRow key={run.reference}>
              <TableCell>
                <Anchor component={Link} to={`/runs/${run.run}`}>
                  {run.reference}
                </Anchor>
              </TableCell>
              <TableCell>
                <StateMark state={run.state} />
              </TableCell>
              <TableCell>{clock(run.start, now)}</TableCell>
              <TableCell>{clock(run.end, now)}</TableCell>
              <TableCell>{run.decides ? 'decides' : slack(run.slackMinutes)}</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </Paper>
  );
}

function slack(value: number | undefined | null): string {
  return value === undefined || value === null ? '' : `${value} min`;
}
