import { Stack, Typography } from '@mui/material';
import { People } from './People';
import { Permits } from './Permits';
import { StoredSecrets } from './StoredSecrets';
import { Tokens } from './Tokens';

/** Who may do something here: one's own tokens, and for administrators people and secrets. */
export function AccessPage({ mayAdminister }: { mayAdminister: boolean }) {
  return (
    <Stack sx={{ gap: 4 }}>
      <Typography variant="h1">Access</Typography>
      {mayAdminister && <People />}
      <Tokens mayAdminister={mayAdminister} />
      {mayAdminister && <StoredSecrets />}
      {mayAdminister && <Permits />}
    </Stack>
  );
}
