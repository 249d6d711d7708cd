import { Button, Stack, TextField } from '@mui/material';
import type { ReactNode } from 'react';

interface WithReasonProps {
  reason: string;
  onReason: (reason: string) => void;
  busy: boolean;
  onAct: () => void;
  /** What the button says. */
  children: ReactNode;
}

/** Why something is done, for the audit trail, and the button that does it. */
export function WithReason({ reason, onReason, busy, onAct, children }: WithReasonProps) {
  return (
    <Stack direction="row" sx={{ gap: 2 }}>
      <TextField
        size="small"
        fullWidth
        label="Why (kept in the audit trail)"
        value={reason}
        onChange={(e) => onReason(e.target.value)}
      />
      <Button variant="contained" disabled={busy} onClick={onAct} sx={{ whiteSpace: 'nowrap' }}>
        {children}
      </Button>
    </Stack>
  );
}
