import {
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  MenuItem,
  Stack,
  TextField,
} from '@mui/material';
import { useState } from 'react';
import { putOffTimes } from './putOff';

interface PutOffDialogProps {
  title: string;
  now: number;
  onClose: () => void;
  onDo: (until: string, reason: string) => Promise<boolean>;
}

/** Until when nobody need look at an alert, and why. */
export function PutOffDialog({ title, now, onClose, onDo }: PutOffDialogProps) {
  const [times] = useState(() => putOffTimes(now));
  const [until, setUntil] = useState(times[0]?.until ?? '');
  const [reason, setReason] = useState('');
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>Put off: {title}</DialogTitle>
      <DialogContent>
        <Stack sx={{ gap: 2, pt: 1 }}>
          <TextField
            select
            label="Until"
            value={until}
            onChange={(event) => setUntil(event.target.value)}
          >
            {times.map((one) => (
              <MenuItem key={one.until} value={one.until}>
                {one.label}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            label="Reason"
            value={reason}
            autoFocus
            helperText="Whoever comes next reads it."
            onChange={(event) => setReason(event.target.value)}
          />
        </Stack>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Leave it as it is</Button>
        <Button
          variant="contained"
          disabled={reason.trim() === ''}
          onClick={() => void onDo(until, reason.trim()).then((done) => done && onClose())}
        >
          Put off
        </Button>
      </DialogActions>
    </Dialog>
  );
}
