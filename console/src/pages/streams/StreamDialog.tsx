import {
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  Stack,
  TextField,
  Typography,
} from '@mui/material';
import { useState } from 'react';
import { api, type Schemas } from '../../api/client';
import { DateField } from '../../parts/DateField';
import { useDoing } from '../../parts/doing';

interface StreamDialogProps {
  kind: 'pause' | 'resume' | 'fill';
  stream: Schemas['StreamView'];
  onClose: () => void;
  onDone: () => void;
}

const words = {
  pause: {
    title: 'Pause',
    effect:
      'What has not begun is taken off the plan, and its schedule starts nothing. Runs that are under way go on.',
    date: 'Until (empty: until somebody resumes it)',
  },
  resume: {
    title: 'Resume',
    effect:
      'Its schedule starts it again. What it has missed is made up or skipped as its schedule says.',
    date: '',
  },
  fill: {
    title: 'Fill in windows',
    effect: 'Windows from this date on that are not on record are planned now, in order.',
    date: 'From',
  },
};

/** Says what pausing, resuming or filling in will do, and asks for the reason. */
export function StreamDialog({ kind, stream, onClose, onDone }: StreamDialogProps) {
  const [reason, setReason] = useState('');
  const [date, setDate] = useState('');
  const doing = useDoing();
  const word = words[kind];
  const act = async () => {
    const taken = await doing.act(async () => {
      if (kind === 'pause') {
        await api.POST('/api/v1/streams/pause', {
          body: { stream: stream.stream, reason, until: date || undefined },
        });
      } else if (kind === 'resume') {
        await api.POST('/api/v1/streams/resume', { body: { stream: stream.stream, reason } });
      } else {
        await api.POST('/api/v1/streams/windows/fill', {
          body: { stream: stream.stream, from: date, reason },
        });
      }
    });
    if (taken) {
      onDone();
      onClose();
    }
  };
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>
        {word.title}: {stream.title}?
      </DialogTitle>
      <DialogContent>
        <Typography sx={{ mb: 2 }}>{word.effect}</Typography>
        <Stack sx={{ gap: 2 }}>
          {word.date && <DateField label={word.date} value={date} onChange={setDate} width={220} />}
          <TextField
            autoFocus
            label="Why (kept in the audit trail)"
            value={reason}
            onChange={(e) => setReason(e.target.value)}
          />
        </Stack>
        {doing.problem && (
          <Typography role="alert" color="error" sx={{ mt: 1.5 }}>
            {doing.problem}
          </Typography>
        )}
      </DialogContent>
      <DialogActions sx={{ px: 3, pb: 2 }}>
        <Button onClick={onClose}>Leave it</Button>
        <Button variant="contained" onClick={act} disabled={kind === 'fill' && !date}>
          {word.title}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
