import { Stack, Typography } from '@mui/material';
import { Addresses } from './Addresses';
import { Duties } from './Duties';
import { LimitsTable } from './LimitsTable';
import { Maintenance } from './Maintenance';
import { Subscriptions } from './Subscriptions';

/** Who is told of alerts: who is on duty when, and whether people and systems are reached. */
export function TellingPage({ mayAct }: { mayAct: boolean }) {
  return (
    <Stack sx={{ gap: 3 }}>
      <Typography variant="h1">Who is told</Typography>
      <Duties />
      <Maintenance mayAct={mayAct} />
      <Addresses mayAct={mayAct} />
      <LimitsTable />
      <Subscriptions mayAct={mayAct} />
    </Stack>
  );
}
