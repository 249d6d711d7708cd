import {
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  MenuItem,
  TextField,
  Typography,
} from '@mui/material';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, body, type Schemas } from '../../api/client';
import { DateField } from '../../parts/DateField';
import { ActionDialog } from '../../parts/ActionDialog';

interface StartDialogProps {
  graph: Schemas['GraphView'];
  onClose: () => void;
}

/** What is to be started by hand: all of it, one job, or from a job on; with which values. */
export function StartDialog({ graph, onClose }: StartDialogProps) {
  const queries = useQueryClient();
  const [what, setWhat] = useState('');
  const [date, setDate] = useState(graph.date);
  const [values, setValues] = useState<Record<string, string>>({});
  const [ready, setReady] = useState(false);
  const known = useQuery({
    queryKey: ['parameters', graph.stream],
    queryFn: () =>
      body(api.GET('/api/v1/starts/parameters', { params: { query: { stream: graph.stream } } })),
  });
  const [part, job] = what.split(' ');
  const start = {
    stream: graph.stream,
    job: job ?? '',
    andFollowing: part === 'from',
    date,
    parameters: Object.fromEntries(Object.entries(values).filter(([, value]) => value !== '')),
  };
  if (ready) {
    return (
      <ActionDialog
        title={`Start ${graph.title}?`}
        verb="Start"
        change={{ start }}
        onClose={onClose}
        onDo={async (reason) => {
          await api.POST('/api/v1/starts', { body: { ...start, reason } });
          await queries.invalidateQueries();
        }}
      />
    );
  }
  const own = graph.nodes.filter((node) => node.kind !== 'other' && node.kind !== 'file');
  const asked = known.data?.asksFor ?? [];
  const names = [...asked, ...(known.data?.values ?? []).map((one) => one.name)];
  const missing = asked.filter(
    (name) => !values[name] && !known.data?.values.some((one) => one.name === name),
  );
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>Start {graph.title} by hand</DialogTitle>
      <DialogContent sx={{ display: 'flex', flexDirection: 'column', gap: 1.5 }}>
        <TextField
          select
          label="What"
          value={what}
          onChange={(e) => setWhat(e.target.value)}
          sx={{ mt: 1 }}
          slotProps={{ inputLabel: { shrink: true }, select: { displayEmpty: true } }}
        >
          <MenuItem value="">All of it</MenuItem>
          {own.map((node) => (
            <MenuItem key={`from ${node.label}`} value={`from ${node.label}`}>
              From “{node.title}” on; what is before counts as done
            </MenuItem>
          ))}
          {own.map((node) => (
            <MenuItem key={`only ${node.label}`} value={`only ${node.label}`}>
              Only “{node.title}”, whatever it waits for
            </MenuItem>
          ))}
        </TextField>
        <DateField label="Business date" value={date} onChange={setDate} width={220} />
        {[...new Set(names)].map((name) => {
          const usual = known.data?.values.find((one) => one.name === name);
          return (
            <TextField
              key={name}
              size="small"
              label={usual ? `${name} (from the ${usual.origin})` : `${name} (must be given)`}
              placeholder={usual?.value}
              value={values[name] ?? ''}
              onChange={(e) => setValues({ ...values, [name]: e.target.value })}
              slotProps={{ inputLabel: { shrink: true } }}
            />
          );
        })}
        {missing.length > 0 && (
          <Typography variant="body2" color="error">
            It asks for {missing.join(', ')}.
          </Typography>
        )}
      </DialogContent>
      <DialogActions sx={{ px: 3, pb: 2 }}>
        <Button onClick={onClose}>Leave it</Button>
        <Button variant="contained" disabled={missing.length > 0} onClick={() => setReady(true)}>
          Look ahead
        </Button>
      </DialogActions>
    </Dialog>
  );
}
