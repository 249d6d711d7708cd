import { Box, Button, Paper, Stack, TextField, Typography } from '@mui/material';
import { useState, type FormEvent } from 'react';
import { api } from '../../api/client';
import { useDoing } from '../../parts/doing';

/** Sign-in; whoever has a one-time password is asked for a new one. */
export function SignInPage({ onSignedIn }: { onSignedIn: () => void }) {
  const [name, setName] = useState('');
  const [password, setPassword] = useState('');
  const [fresh, setFresh] = useState('');
  const { act, problem, status } = useDoing();
  const oneTime = status === 403 || fresh !== ''; // it must be replaced at once

  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const isIn = await act(() =>
      api.POST('/api/v1/session', {
        body: { name, password, tokenLabel: '', newPassword: fresh },
      }),
    );
    if (isIn) {
      onSignedIn();
    }
  };

  return (
    <Box
      component="main"
      sx={{
        minHeight: '100vh',
        display: 'grid',
        placeItems: 'center',
        background: 'radial-gradient(circle at 30% 20%, #1d4c69, #0b1c29 70%)',
      }}
    >
      <Paper component="form" onSubmit={submit} sx={{ p: 4, width: 380 }}>
        <Stack sx={{ gap: 2 }}>
          <Stack direction="row" sx={{ gap: 1.5, alignItems: 'center' }}>
            <img src="/mark.svg" width={40} height={40} alt="" />
            <Box>
              <Typography variant="h1">Purser</Typography>
              <Typography variant="body2" color="textSecondary">
                Batch work on time, and the reason when not
              </Typography>
            </Box>
          </Stack>
          <TextField
            label="Name"
            value={name}
            autoFocus
            autoComplete="username"
            onChange={(e) => setName(e.target.value)}
          />
          <TextField
            label="Password"
            type="password"
            value={password}
            autoComplete="current-password"
            onChange={(e) => setPassword(e.target.value)}
          />
          {oneTime && (
            <TextField
              label="New password (at least 12 characters)"
              type="password"
              value={fresh}
              autoComplete="new-password"
              onChange={(e) => setFresh(e.target.value)}
            />
          )}
          {problem && (
            <Typography role="alert" color="error" variant="body2">
              {problem}
            </Typography>
          )}
          <Button type="submit" variant="contained" size="large" disabled={!name || !password}>
            Sign in
          </Button>
        </Stack>
      </Paper>
    </Box>
  );
}
