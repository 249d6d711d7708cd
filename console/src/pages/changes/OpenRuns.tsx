import { Box, Button, Paper, Stack, Typography } from '@mui/material';
import { useState } from 'react';
import type { Schemas } from '../../api/client';
import { StateMark } from '../../parts/StateMark';
import { byFate, fate, ofPlanned } from './holding';

const FEW = 8;

/** Runs that are there and not over: which take a change, and which keep what they have. */
export function OpenRuns({ open, more }: { open: Schemas['OpenRunView'][]; more: number }) {
  const [all, setAll] = useState(false);
  const begun = byFate(open.filter((one) => one.state !== 'planned'));
  const shown = all ? byFate(open) : begun.slice(0, FEW);
  const hidden = open.length - shown.length;
  if (open.length === 0) {
    return null;
  }
  const keep = open.filter((one) => one.what === 'keeps').length;
  return (
    <Paper sx={{ p: 2 }}>
      <Typography variant="h2" sx={{ mb: 0.5 }}>
        Runs that are there and not over: {open.length - keep} change, {keep + more} keep what they
        have
      </Typography>
      {shown.map((run) => (
        <Stack
          key={run.reference}
          direction="row"
          sx={{ gap: 1.5, alignItems: 'center', py: 0.4, flexWrap: 'wrap' }}
        >
          <StateMark state={run.state} />
          <b>{run.reference}</b>
          <Box sx={{ color: run.what === 'keeps' ? 'text.secondary' : undefined }}>{fate(run)}</Box>
        </Stack>
      ))}
      {!all &&
        ofPlanned(open).map(([what, many]) => (
          <Stack key={what} direction="row" sx={{ gap: 1.5, alignItems: 'center', py: 0.4 }}>
            <StateMark state="planned" />
            <b>
              {many} {many === 1 ? 'run' : 'runs'}
            </b>
            {many === 1 ? what : `each ${what}`}
          </Stack>
        ))}
      {hidden > 0 && (
        <Button size="small" onClick={() => setAll(true)}>
          List all {open.length}
        </Button>
      )}
      {all && more > 0 && (
        <Typography color="textSecondary">and {more} that are not listed</Typography>
      )}
    </Paper>
  );
}
