import {
  Alert as Said,
  Box,
  Button,
  FormControlLabel,
  Paper,
  Stack,
  Switch,
  Typography,
} from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, body, type Schemas } from '../../api/client';
import { useNow } from '../../api/live';
import { Notice, Waiting } from '../../parts/Notice';
import { useDoing } from '../../parts/doing';
import { clock, span } from '../../parts/time';
import { PutOffDialog } from './PutOffDialog';

type Alert = Schemas['AlertView'];

/** Alerts, newest first: what they are about, who has taken them on, whom they have reached. */
export function AlertsPage({ mayAct }: { mayAct: boolean }) {
  const [closed, setClosed] = useState(false);
  const now = useNow();
  const { act: doing, problem, forget } = useDoing('alerts');
  const alerts = useQuery({
    queryKey: ['alerts', closed],
    queryFn: () => body(api.GET('/api/v1/alerts', { params: { query: { closed } } })),
    refetchInterval: 10_000,
  });
  if (!alerts.data) {
    return <Waiting error={alerts.error} what="Alerts" />;
  }
  const act = (id: number, action: string, reason = '', until?: string) =>
    doing(() =>
      api.POST('/api/v1/alerts/{id}/actions', {
        params: { path: { id } },
        body: { action, reason, until },
      }),
    );
  const open = alerts.data.filter((alert) => alert.state === 'open').length;
  return (
    <Stack sx={{ gap: 2 }}>
      <Stack direction="row" sx={{ alignItems: 'center' }}>
        <Box sx={{ flex: 1 }}>
          <Typography variant="h1">Alerts</Typography>
          <Typography color="textSecondary">
            {open === 0
              ? 'Nobody needs to be told anything.'
              : `${open} ${open === 1 ? 'waits' : 'wait'} for somebody to take ${
                  open === 1 ? 'it' : 'them'
                } on.`}
          </Typography>
        </Box>
        <FormControlLabel
          control={<Switch checked={closed} onChange={(e) => setClosed(e.target.checked)} />}
          label="Closed ones too"
        />
      </Stack>
      {problem && (
        <Said severity="error" onClose={forget}>
          {problem}
        </Said>
      )}
      {alerts.data.length === 0 ? (
        <Notice title="No alert is open" text="What was closed can be shown with the switch." />
      ) : (
        <Paper>
          {alerts.data.map((alert) => (
            <AlertRow key={alert.id} alert={alert} now={now} mayAct={mayAct} onAct={act} />
          ))}
        </Paper>
      )}
    </Stack>
  );
}

interface AlertRowProps {
  alert: Alert;
  now: number;
  mayAct: boolean;
  onAct: (id: number, action: string, reason?: string, until?: string) => Promise<boolean>;
}

function AlertRow({ alert, now, mayAct, onAct }: AlertRowProps) {
  const [puttingOff, setPuttingOff] = useState(false);
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: '130px 1fr 250px 210px',
        gap: 2,
        px: 2,
        py: 1.3,
        alignItems: 'start',
        borderTop: '1px solid',
        '&:first-of-type': { borderTop: 'none' },
        borderColor: 'divider',
        opacity: alert.state === 'closed' ? 0.75 : 1,
      }}
    >
      <Box
        sx={(t) => ({
          borderLeft: `4px solid ${t.states[alert.kind === 'failed' ? 'failed' : 'waiting'].edge}`,
          pl: 1.2,
        })}
      >
        <Typography sx={{ fontWeight: 700 }}>{alert.kindTitle}</Typography>
        {alert.urgency !== 'warning' && (
          <Typography
            variant="body2"
            sx={{ fontWeight: 700 }}
            color={alert.urgency === 'urgent' ? 'error' : 'textSecondary'}
          >
            {alert.urgency}
          </Typography>
        )}
        <Typography variant="body2" color="textSecondary">
          {clock(alert.opened, now, false)}
        </Typography>
      </Box>
      <Box>
        <Typography sx={{ fontWeight: 600 }}>
          <Link to={alert.page} style={{ color: 'inherit' }}>
            {alert.title}
          </Link>
        </Typography>
        <Typography variant="body2">{alert.text}</Typography>
        {alert.record
          .filter((step) => ['opened', 'changed'].includes(step.what) && step.kind !== alert.kind)
          .map((step, index) => (
            <Typography key={index} variant="body2" color="textSecondary">
              {step.kindTitle} from {clock(step.at, now, false)}: {step.text}
            </Typography>
          ))}
        {alert.record
          .filter((step) => step.what === 'commented' || step.what === 'put off')
          .map((step, index) => (
            <Typography key={`said ${index}`} variant="body2">
              {step.who}, {clock(step.at, now, false)}:{' '}
              {step.what === 'commented' ? step.text : `put off ${step.text}`}
            </Typography>
          ))}
        <Typography variant="body2" color="textSecondary">
          {alert.reference}
          {alert.rule !== 'built in' && ` · by a rule of ${alert.rule}`}
        </Typography>
      </Box>
      <Box>
        {alert.deliveries.length === 0 && (
          <Typography variant="body2" color="textSecondary">
            nobody is to be told
          </Typography>
        )}
        {alert.deliveries.map((one, index) => (
          <Typography key={index} variant="body2" title={one.lastError || one.address}>
            {one.recipient} by {one.channel}:{' '}
            {one.state === 'delivered'
              ? `told ${clock(one.delivered, now, false)}`
              : `not yet, ${one.tries} ${one.tries === 1 ? 'try' : 'tries'}`}
          </Typography>
        ))}
      </Box>
      <Stack sx={{ gap: 0.5, alignItems: 'flex-end' }}>
        {alert.state === 'open' && mayAct && (
          <Stack direction="row" sx={{ gap: 0.5 }}>
            <Button size="small" onClick={() => setPuttingOff(true)}>
              Put off
            </Button>
            <Button
              size="small"
              variant="contained"
              onClick={() => void onAct(alert.id, 'acknowledge')}
            >
              I take it on
            </Button>
          </Stack>
        )}
        {alert.state === 'put off' && (
          <Typography variant="body2">
            put off until {clock(alert.putOffUntil, now, false)}
          </Typography>
        )}
        {puttingOff && (
          <PutOffDialog
            title={alert.title}
            now={now}
            onClose={() => setPuttingOff(false)}
            onDo={(until, reason) => onAct(alert.id, 'put-off', reason, until)}
          />
        )}
        {alert.acknowledgedBy && (
          <Typography variant="body2">taken on by {alert.acknowledgedBy}</Typography>
        )}
        {alert.closed ? (
          <Typography variant="body2" color="textSecondary" sx={{ textAlign: 'right' }}>
            closed {clock(alert.closed, now, false)}: {alert.closedBecause}
          </Typography>
        ) : (
          <Typography variant="body2" color="textSecondary">
            open for {span(now - Date.parse(alert.opened ?? ''))}
          </Typography>
        )}
      </Stack>
    </Box>
  );
}
