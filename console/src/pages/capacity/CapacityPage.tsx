import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  Paper,
  Stack,
  TextField,
  Typography,
} from '@mui/material';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, body, type Schemas } from '../../api/client';
import { useNow } from '../../api/live';
import { ActionDialog, type Change } from '../../parts/ActionDialog';
import { Notice, Waiting } from '../../parts/Notice';
import { clock, span } from '../../parts/time';

type Capacity = Schemas['CapacityView'];
type Units = Schemas['UnitsView'];

/** Capacities: who holds how much, who stands in line, and how much there is. */
export function CapacityPage({ mayAct }: { mayAct: boolean }) {
  const now = useNow();
  const found = useQuery({
    queryKey: ['capacities'],
    queryFn: () => body(api.GET('/api/v1/capacities')),
    refetchInterval: 3_000,
  });
  if (!found.data) {
    return <Waiting error={found.error} what="Capacities" />;
  }
  return (
    <Stack sx={{ gap: 2 }}>
      <Box>
        <Typography variant="h1">Capacity</Typography>
        <Typography color="textSecondary">
          Units that runs take while they run. Whoever is first in line is served first: the earlier
          due, a point of priority counting as a minute of waiting.
        </Typography>
      </Box>
      {found.data.length === 0 && (
        <Notice title="No capacity is defined" text="Define one in a file and publish it." />
      )}
      {found.data.map((one) => (
        <One key={one.name} capacity={one} now={now} mayAct={mayAct} />
      ))}
    </Stack>
  );
}

function One({ capacity, now, mayAct }: { capacity: Capacity; now: number; mayAct: boolean }) {
  const queries = useQueryClient();
  const [asking, setAsking] = useState(false);
  const [change, setChange] = useState<Change | null>(null);
  const shown = Math.max(capacity.units, capacity.taken);
  return (
    <Paper sx={{ p: 2 }}>
      <Stack direction="row" sx={{ alignItems: 'center', gap: 2, flexWrap: 'wrap' }}>
        <Box sx={{ minWidth: 220 }}>
          <Typography variant="h2">{capacity.title}</Typography>
          <Typography variant="body2" color="textSecondary">
            {capacity.name}
            {capacity.spans.length > 0 && ` · ${capacity.spans.join(', ')}`}
          </Typography>
        </Box>
        <Stack direction="row" sx={{ gap: 0.6, flexWrap: 'wrap' }} aria-hidden>
          {Array.from({ length: Math.min(shown, 40) }, (_, i) => (
            <Box
              key={i}
              sx={(t) => ({
                width: 22,
                height: 22,
                borderRadius: '5px',
                border: `1.5px ${i < capacity.units ? 'solid' : 'dashed'} ${t.states.running.edge}`,
                background: i < capacity.taken ? t.states.running.fill : 'transparent',
              })}
            />
          ))}
        </Stack>
        <Typography sx={{ fontWeight: 600 }}>
          {capacity.taken} of {capacity.units} taken
        </Typography>
        <Box sx={{ flex: 1 }}>
          {capacity.set !== undefined && capacity.set !== null && (
            <Typography variant="body2">
              changed from {capacity.defined} by {capacity.setBy}{' '}
              {capacity.setSince && `${span(now - Date.parse(capacity.setSince))} ago`}
              {capacity.setReason && `: ${capacity.setReason}`}
            </Typography>
          )}
          {capacity.taken > capacity.units && (
            <Typography variant="body2" color="error">
              More is taken than there is: nothing starts until enough of it has ended.
            </Typography>
          )}
        </Box>
        {mayAct && (
          <Button variant="outlined" onClick={() => setAsking(true)}>
            Change units
          </Button>
        )}
        {mayAct && capacity.set !== undefined && capacity.set !== null && (
          <Button onClick={() => setChange({ capacity: { name: capacity.name } })}>
            As defined
          </Button>
        )}
      </Stack>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 3, mt: 1.5 }}>
        <Runs title="Held by" none="Nobody holds any." runs={capacity.holders} now={now} />
        <Runs title="In line" none="Nobody waits for it." runs={capacity.line} now={now} numbered />
      </Box>
      {asking && (
        <HowMany
          capacity={capacity}
          onClose={() => setAsking(false)}
          onSaid={(units) => {
            setAsking(false);
            setChange({ capacity: { name: capacity.name, units } });
          }}
        />
      )}
      {change && (
        <ActionDialog
          title={
            change.capacity?.units === undefined
              ? `${capacity.title}: as many as are defined?`
              : `${capacity.title}: ${change.capacity.units} from now on?`
          }
          verb="Change it"
          change={change}
          onClose={() => setChange(null)}
          onDo={async (reason, wanted) => {
            await api.POST('/api/v1/capacities', { body: { ...wanted, reason } });
            await queries.invalidateQueries({ queryKey: ['capacities'] });
          }}
        />
      )}
    </Paper>
  );
}

interface HowManyProps {
  capacity: Capacity;
  onClose: () => void;
  onSaid: (units: number) => void;
}

function HowMany({ capacity, onClose, onSaid }: HowManyProps) {
  const [units, setUnits] = useState(String(capacity.units));
  const good = /^\d{1,7}$/.test(units);
  return (
    <Dialog open onClose={onClose}>
      <DialogTitle>How many units of {capacity.title}?</DialogTitle>
      <DialogContent>
        <TextField
          autoFocus
          label="Units from now on"
          value={units}
          onChange={(e) => setUnits(e.target.value)}
          onKeyDown={(e) => e.key === 'Enter' && good && onSaid(Number(units))}
          error={!good}
          sx={{ mt: 1 }}
        />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Leave it</Button>
        <Button variant="contained" disabled={!good} onClick={() => onSaid(Number(units))}>
          Look ahead
        </Button>
      </DialogActions>
    </Dialog>
  );
}

interface RunsProps {
  title: string;
  none: string;
  runs: Units[];
  now: number;
  numbered?: boolean;
}

function Runs({ title, none, runs, now, numbered }: RunsProps) {
  return (
    <Box>
      <Typography variant="h3" sx={{ mb: 0.5 }}>
        {title}
      </Typography>
      {runs.length === 0 && (
        <Typography variant="body2" color="textSecondary">
          {none}
        </Typography>
      )}
      {runs.map((run, index) => (
        <Box
          key={run.run}
          sx={{
            display: 'grid',
            gridTemplateColumns: '24px 1fr auto',
            gap: 1,
            py: 0.4,
            borderTop: '1px solid',
            borderColor: 'divider',
          }}
        >
          <Typography variant="body2" color="textSecondary">
            {numbered ? index + 1 : ''}
          </Typography>
          <Box>
            <Link to={`/runs/${run.run}`} style={{ color: 'inherit' }}>
              {run.title}
            </Link>
            <Typography variant="body2" color="textSecondary">
              {run.reference}
            </Typography>
          </Box>
          <Typography variant="body2" sx={{ textAlign: 'right' }}>
            {run.units} {run.units === 1 ? 'unit' : 'units'} · priority {run.priority}
            <br />
            since {clock(run.since, now)}
          </Typography>
        </Box>
      ))}
    </Box>
  );
}
