import {
  Alert as Said,
  Box,
  FormControlLabel,
  Pagination,
  Paper,
  Stack,
  Switch,
  TextField,
  Typography,
} from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, body } from '../../api/client';
import { useNow } from '../../api/live';
import { Notice, Waiting } from '../../parts/Notice';
import { Pick } from '../../parts/Pick';
import { useDoing } from '../../parts/doing';
import { MutedNow } from '../telling/Maintenance';
import { AlertCard } from './AlertCard';
import { Chosen } from './Chosen';
import { Sums } from './Sums';
import { nothingAsked, queryOf, spans, type Asked } from './asked';

const kinds = [
  'failed',
  'stalled',
  'service',
  'late',
  'will-be-late',
  'host',
  'file',
  'too-quick',
  'value',
  'long-running',
  'waits-long',
  'not-planned',
  'calendar',
  'change',
  'approval',
  'retried',
  'cancelled',
  'skipped',
  'started',
  'succeeded',
  'acted-on',
];

const pageSize = 50;

/** Alerts, newest first: what they are about, who has taken them on, whom they have reached. */
export function AlertsPage({ mayAct }: { mayAct: boolean }) {
  const [asked, setAsked] = useState<Asked>(nothingAsked);
  const [page, setPage] = useState(1);
  const [chosen, setChosen] = useState<number[]>([]);
  const now = useNow();
  const { act: doing, problem, forget } = useDoing('alerts');
  const query = queryOf(asked, now);
  const alerts = useQuery({
    queryKey: ['alerts', asked],
    queryFn: () => body(api.GET('/api/v1/alerts', { params: { query: { ...query, limit: 500 } } })),
    refetchInterval: 10_000,
    placeholderData: (before) => before,
  });
  const streams = useQuery({
    queryKey: ['streams'],
    queryFn: () => body(api.GET('/api/v1/streams')),
  });
  if (!alerts.data) {
    return <Waiting error={alerts.error} what="Alerts" />;
  }
  const ask = (more: Partial<Asked>) => {
    setAsked({ ...asked, ...more });
    setPage(1);
  };
  const act = (id: number, action: string, reason = '', until?: string) =>
    doing(() =>
      api.POST('/api/v1/alerts/{id}/actions', {
        params: { path: { id } },
        body: { action, reason, until },
      }),
    );
  const choose = (ids: number[], on: boolean) =>
    setChosen((before) =>
      on ? [...new Set([...before, ...ids])] : before.filter((one) => !ids.includes(one)),
    );
  const open = alerts.data.filter((alert) => alert.state === 'open').length;
  const shown = alerts.data.slice((page - 1) * pageSize, page * pageSize);
  const departments = [
    ...new Set((streams.data ?? []).map((one) => one.department).filter((one) => one !== '')),
  ].sort();
  const anything = JSON.stringify(asked) !== JSON.stringify(nothingAsked);
  return (
    <Stack sx={{ gap: 2 }}>
      <Box>
        <Typography variant="h1">Alerts</Typography>
        <Typography color="textSecondary">
          {open === 0
            ? anything
              ? 'None of these waits for anybody.'
              : 'Nobody needs to be told anything.'
            : `${open} ${open === 1 ? 'waits' : 'wait'} for somebody to take ${
                open === 1 ? 'it' : 'them'
              } on.`}
        </Typography>
      </Box>
      <Stack direction="row" sx={{ gap: 1, flexWrap: 'wrap', alignItems: 'center' }}>
        <Pick
          width={165}
          label="Opened"
          value={asked.span}
          choices={Object.entries(spans).map(([key, one]) => [key, one.title])}
          onPick={(span) => ask({ span })}
        />
        {asked.span === 'days' &&
          (['from', 'to'] as const).map((end) => (
            <TextField
              key={end}
              size="small"
              type="date"
              label={end === 'from' ? 'From' : 'To'}
              value={asked[end]}
              onChange={(e) => ask({ [end]: e.target.value })}
              slotProps={{ inputLabel: { shrink: true } }}
            />
          ))}
        <Pick
          width={165}
          label="Kind"
          value={asked.kind}
          choices={[['', 'any'], ...kinds.map((one): [string, string] => [one, one])]}
          onPick={(kind) => ask({ kind })}
        />
        <Pick
          width={165}
          label="Urgency"
          value={asked.urgency}
          choices={[
            ['', 'any'],
            ['urgent', 'urgent'],
            ['urgent,warning', 'warning or more'],
            ['note', 'note'],
          ]}
          onPick={(urgency) => ask({ urgency })}
        />
        <Pick
          width={165}
          label="Department"
          value={asked.department}
          choices={[['', 'any'], ...departments.map((one): [string, string] => [one, one])]}
          onPick={(department) => ask({ department })}
        />
        <TextField
          size="small"
          label="Text"
          value={asked.text}
          onChange={(e) => ask({ text: e.target.value })}
          sx={{ width: 180 }}
        />
        <FormControlLabel
          control={
            <Switch checked={asked.mine} onChange={(e) => ask({ mine: e.target.checked })} />
          }
          label="Told to me"
        />
        <FormControlLabel
          control={
            <Switch checked={asked.closed} onChange={(e) => ask({ closed: e.target.checked })} />
          }
          label="Closed ones too"
        />
      </Stack>
      <MutedNow />
      {mayAct && alerts.data.length > 0 && (
        <Chosen
          chosen={alerts.data.filter((one) => chosen.includes(one.id))}
          shown={shown.filter((one) => one.state !== 'closed')}
          now={now}
          onChoose={choose}
        />
      )}
      {problem && (
        <Said severity="error" onClose={forget}>
          {problem}
        </Said>
      )}
      {alerts.data.length === 0 ? (
        <Notice
          title={anything ? 'No alert is like that' : 'No alert is open'}
          text="What was closed can be shown with the switch."
        />
      ) : (
        <Paper>
          {shown.map((alert) => (
            <AlertCard
              key={alert.id}
              alert={alert}
              now={now}
              mayAct={mayAct}
              onAct={act}
              chosen={chosen.includes(alert.id)}
              onChoose={mayAct ? (on) => choose([alert.id], on) : undefined}
            />
          ))}
        </Paper>
      )}
      {alerts.data.length > pageSize && (
        <Pagination
          count={Math.ceil(alerts.data.length / pageSize)}
          page={page}
          onChange={(_, to) => setPage(to)}
        />
      )}
      {alerts.data.length === 500 && (
        <Typography variant="body2" color="textSecondary">
          These are the newest 500; ask for less to see older ones.
        </Typography>
      )}
      <Sums />
    </Stack>
  );
}
