import { Button, Paper, Stack, TextField, Typography } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { api, body, type Schemas } from '../../api/client';
import { WithReason } from '../../parts/WithReason';
import { useDoing } from '../../parts/doing';
import { definitionAddress } from './address';

/** Another name for a definition: what that changes, and then that. */
export function Rename({ kind, name }: { kind: string; name: string }) {
  const [to, setTo] = useState('');
  const [reason, setReason] = useState('');
  const [would, setWould] = useState<Schemas['RenameView']>();
  const doing = useDoing();
  const go = useNavigate();
  const queries = useQueryClient();
  const wanted = { kind, name, to: to.trim(), reason };
  const look = () =>
    doing.act(async () =>
      setWould(await body(api.POST('/api/v1/definitions/rename-preview', { body: wanted }))),
    );
  const rename = () =>
    doing.act(async () => {
      await body(api.POST('/api/v1/definitions/rename', { body: wanted }));
      await queries.invalidateQueries();
      void go(definitionAddress(kind, wanted.to));
    });
  const errors = (would?.problems ?? []).filter((one) => one.severity === 'error');
  return (
    <Paper sx={{ p: 2 }}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        Another name
      </Typography>
      <Stack sx={{ gap: 1.5 }}>
        <Stack direction="row" sx={{ gap: 1.5 }}>
          <TextField
            size="small"
            label="New name"
            value={to}
            onChange={(e) => {
              setTo(e.target.value);
              setWould(undefined);
            }}
            sx={{ width: 360 }}
          />
          <Button
            variant="outlined"
            disabled={wanted.to === '' || wanted.to === name || doing.busy}
            onClick={look}
          >
            What would that change?
          </Button>
        </Stack>
        {doing.problem && (
          <Typography role="alert" color="error">
            {doing.problem}
          </Typography>
        )}
        {errors.map((one) => (
          <Typography key={one.message} role="alert" color="error">
            {one.message}
          </Typography>
        ))}
        {would && errors.length === 0 && (
          <>
            <Typography role="status">
              {would.changed.join(', ')} would change in one publication;{' '}
              {kind === 'stream' &&
                `${would.runs} ${would.runs === 1 ? 'run' : 'runs'} of today and tomorrow, and all before, come with it. `}
              Its versions come with it, and the old name goes on being understood.
            </Typography>
            <WithReason reason={reason} onReason={setReason} busy={doing.busy} onAct={rename}>
              Rename it
            </WithReason>
          </>
        )}
      </Stack>
    </Paper>
  );
}
