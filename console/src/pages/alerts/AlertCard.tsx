import { Box, Button, Checkbox, Collapse, Stack, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, body, type Schemas } from '../../api/client';
import { clock, span } from '../../parts/time';
import { PutOffDialog } from './PutOffDialog';
import { reachedOf } from './reached';

type Alert = Schemas['AlertView'];

interface AlertCardProps {
  alert: Alert;
  now: number;
  mayAct: boolean;
  /** Whether it is shown below the alert that it is part of. */
  below?: boolean;
  /** Whether it is chosen, and how that is changed; not where it cannot be. */
  chosen?: boolean;
  onChoose?: (chosen: boolean) => void;
  onAct: (id: number, action: string, reason?: string, until?: string) => Promise<boolean>;
}

/** One alert, with those that are part of it below it when they are asked for. */
export function AlertCard({
  alert,
  now,
  mayAct,
  below = false,
  chosen = false,
  onChoose,
  onAct,
}: AlertCardProps) {
  const [puttingOff, setPuttingOff] = useState(false);
  const [unfolded, setUnfolded] = useState(false);
  const parts = useQuery({
    queryKey: ['alerts', 'parts', alert.id],
    queryFn: () =>
      body(
        api.GET('/api/v1/alerts', {
          params: { query: { partOf: alert.id, closed: true, limit: 500 } },
        }),
      ),
    enabled: unfolded,
  });
  const took = alert.record.filter((step) => step.what === 'grew').at(-1);
  return (
    <>
      <Box
        sx={{
          display: 'grid',
          gridTemplateColumns: { xs: '1fr', md: '130px 1fr 250px 210px' },
          gap: 2,
          px: 2,
          pl: below ? 6 : 2,
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
          <Stack direction="row" sx={{ alignItems: 'center', gap: 0.5 }}>
            {onChoose && alert.state !== 'closed' && (
              <Checkbox
                size="small"
                sx={{ p: 0, ml: -0.4 }}
                checked={chosen}
                onChange={(e) => onChoose(e.target.checked)}
                slotProps={{ input: { 'aria-label': `Choose ${alert.title}` } }}
              />
            )}
            <Typography sx={{ fontWeight: 700 }}>{alert.kindTitle}</Typography>
          </Stack>
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
          {alert.firstAid && alert.state !== 'closed' && (
            <Typography variant="body2" sx={{ whiteSpace: 'pre-line' }}>
              <b>What to do:</b> {alert.firstAid}
            </Typography>
          )}
          {alert.record
            .filter((step) => ['opened', 'changed'].includes(step.what) && step.kind !== alert.kind)
            .map((step, index) => (
              <Typography key={index} variant="body2" color="textSecondary">
                {step.kindTitle} from {clock(step.at, now, false)}: {step.text}
              </Typography>
            ))}
          {alert.record
            .filter((step) => ['commented', 'put off', 'escalated', 'acted'].includes(step.what))
            .map((step, index) => (
              <Typography key={`said ${index}`} variant="body2">
                {step.who ? `${step.who}, ` : ''}
                {clock(step.at, now, false)}:{' '}
                {step.what === 'put off' ? `put off ${step.text}` : step.text}
              </Typography>
            ))}
          <Typography variant="body2" color="textSecondary">
            {alert.reference}
            {alert.rule !== 'built in' && ` · by a rule of ${alert.rule}`}
          </Typography>
          {alert.parts > 0 && (
            <Button size="small" sx={{ px: 0 }} onClick={() => setUnfolded(!unfolded)}>
              {unfolded ? 'Hide' : 'Show'} {alert.parts} more that{' '}
              {alert.parts === 1 ? 'is' : 'are'} part of it
              {took ? `, told ${clock(took.at, now, false)}` : ''}
            </Button>
          )}
        </Box>
        <Box>
          {reachedOf(alert, now).map((one, index) => (
            <Typography key={index} variant="body2" title={one.more} color={one.color}>
              {one.text}
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
      <Collapse in={unfolded} unmountOnExit>
        {(parts.data ?? []).map((part) => (
          <AlertCard key={part.id} alert={part} now={now} mayAct={mayAct} onAct={onAct} below />
        ))}
      </Collapse>
    </>
  );
}
