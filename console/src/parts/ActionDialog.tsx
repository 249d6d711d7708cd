import {
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  TextField,
  Typography,
} from '@mui/material';
import { useState } from 'react';

interface ActionDialogProps {
  action: string;
  effect: string;
  onClose: () => void;
  onDo: (reason: string) => Promise<void>;
}

/** Says what an action will do before it is taken, and asks for the reason. */
export function ActionDialog({ action, effect, onClose, onDo }: ActionDialogProps) {
  const [reason, setReason] = useState('');
  const [problem, setProblem] = useState('');
  const [busy, setBusy] = useState(false);
  const title = action.charAt(0).toUpperCase() + action.slice(1);
  const act = async () => {
    setBusy(true);
    try {
      await onDo(reason);
      onClose();
    } catch (e) {
      setProblem(e instanceof Error ? e.message : String(e));
      setBusy(false);
    }
  };
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>{title}?</DialogTitle>
      <DialogContent>
        <Typography sx={{ mb: 2 }}>{effect}</Typography>
        <TextField
          autoFocus
          fullWidth
          label="Why (kept with the run and in the audit trail)"
          value={reason}
          onChange={(e) => setReason(e.target.value)}
          onKeyDown={(e) => e.key === 'Enter' && act()}
        />
        {problem && (
          <Typography role="alert" color="error" sx={{ mt: 1.5 }}>
            {problem}
          </Typography>
        )}
      </DialogContent>
      <DialogActions sx={{ px: 3, pb: 2 }}>
        <Button onClick={onClose}>Leave it</Button>
        <Button variant="contained" onClick={act} disabled={busy}>
          {title}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
