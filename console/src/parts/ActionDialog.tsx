import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  TextField,
  Typography,
} from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, body, type Schemas } from '../api/client';
import { useDoing } from './doing';
import { instantOf } from './time';

export type Change = Schemas['ChangeRequest'];

interface ActionDialogProps {
  title: string;
  /** What the button says. */
  verb: string;
  effect?: string;
  /** What is wanted, for the look ahead; nothing is looked ahead at without it. */
  change?: Change;
  onClose: () => void;
  onDo: (reason: string, change: Change) => Promise<void>;
}

/** Says what an action will do before it is taken, and asks for the reason. */
export function ActionDialog({ title, verb, effect, change, onClose, onDo }: ActionDialogProps) {
  const [reason, setReason] = useState('');
  const [priority, setPriority] = useState('50');
  const [startAt, setStartAt] = useState('');
  const doing = useDoing();
  const wanted: Change = { ...change };
  if (change?.action === 'priority') {
    wanted.priority = Number(priority);
  }
  if (change?.action === 'start-at' && startAt) {
    wanted.startAt = instantOf(startAt);
  }
  const complete = change?.action !== 'start-at' || startAt !== '';
  const act = async () => {
    if (await doing.act(() => onDo(reason, wanted))) {
      onClose();
    }
  };
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>{title}</DialogTitle>
      <DialogContent>
        {effect && <Typography sx={{ mb: 1.5 }}>{effect}</Typography>}
        {change?.action === 'priority' && (
          <TextField
            fullWidth
            type="number"
            label="Priority, 0 to 100: a point is worth a minute of waiting"
            value={priority}
            onChange={(e) => setPriority(e.target.value)}
            sx={{ my: 1.5 }}
          />
        )}
        {change?.action === 'start-at' && (
          <TextField
            fullWidth
            type="datetime-local"
            label="Not before, on the site’s clock"
            value={startAt}
            onChange={(e) => setStartAt(e.target.value)}
            slotProps={{ inputLabel: { shrink: true } }}
            sx={{ my: 1.5 }}
          />
        )}
        {change && complete && <LookAhead change={wanted} />}
        <TextField
          autoFocus
          fullWidth
          label="Why (kept with the run and in the audit trail)"
          value={reason}
          onChange={(e) => setReason(e.target.value)}
          onKeyDown={(e) => e.key === 'Enter' && complete && act()}
          sx={{ mt: 1 }}
        />
        {doing.problem && (
          <Typography role="alert" color="error" sx={{ mt: 1.5 }}>
            {doing.problem}
          </Typography>
        )}
      </DialogContent>
      <DialogActions sx={{ px: 3, pb: 2 }}>
        <Button onClick={onClose}>Leave it</Button>
        <Button variant="contained" onClick={act} disabled={doing.busy || !complete}>
          {verb}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

/** What would happen, found by rehearsal from the board as it stands. */
function LookAhead({ change }: { change: Change }) {
  const effect = useQuery({
    queryKey: ['what-if', change],
    queryFn: () => body(api.POST('/api/v1/what-if', { body: change })),
    retry: false,
    staleTime: 20_000,
  });
  return (
    <Box
      aria-label="What it would do"
      sx={{
        my: 1,
        pl: 1.5,
        borderLeft: '4px solid',
        borderColor: 'secondary.main',
        minHeight: 52,
      }}
    >
      {effect.isPending && (
        <Typography variant="body2" color="textSecondary">
          Looking ahead…
        </Typography>
      )}
      {effect.error && (
        <Typography variant="body2" color="error">
          {effect.error.message}
        </Typography>
      )}
      {effect.data?.sentences.map((sentence, place) => (
        <Typography
          key={sentence}
          variant="body2"
          sx={{ py: 0.3, overflowWrap: 'anywhere' }}
          color={place < (effect.data?.refusals.length ?? 0) ? 'error' : undefined} // they come first
        >
          {sentence}
        </Typography>
      ))}
    </Box>
  );
}
