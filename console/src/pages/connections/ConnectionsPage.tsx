import { Stack, Typography } from '@mui/material';
import { Connections } from './Connections';
import { RemoteServices } from './RemoteServices';

/** Outside systems: how they are reached, and what remote services can be asked for. */
export function ConnectionsPage({ mayAct }: { mayAct: boolean }) {
  return (
    <Stack sx={{ gap: 4 }}>
      <Typography variant="h1">Connections</Typography>
      <Connections mayAct={mayAct} />
      <RemoteServices />
    </Stack>
  );
}
