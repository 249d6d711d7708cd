import { Box, Paper, Stack, Tab, Tabs, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, body } from '../../api/client';
import { Waiting } from '../../parts/Notice';
import { Held } from './Held';
import { NameNeighbour } from './NameNeighbour';

interface EnvironmentsPageProps {
  mayPublish: boolean;
  mayAdminister: boolean;
}

/** This environment held against others: what differs, which is newer, what is on its way. */
export function EnvironmentsPage({ mayPublish, mayAdminister }: EnvironmentsPageProps) {
  const [chosen, setChosen] = useState('');
  const all = useQuery({
    queryKey: ['neighbours', 'all'],
    queryFn: () => body(api.GET('/api/v1/neighbours')),
  });
  if (!all.data) {
    return <Waiting error={all.error} what="Other environments" />;
  }
  const current = all.data.find((one) => one.name === chosen) ?? all.data[0];
  return (
    <Stack sx={{ gap: 2 }}>
      <Box>
        <Typography variant="h1">Environments</Typography>
        <Typography color="textSecondary">
          What differs here from another environment, which of the two is newer, and what is on its
          way; what was tested there is brought here, all of what you choose or nothing.
        </Typography>
      </Box>
      {all.data.length > 1 && (
        <Tabs value={current?.name} onChange={(_, to: string) => setChosen(to)}>
          {all.data.map((one) => (
            <Tab key={one.name} value={one.name} label={one.name} />
          ))}
        </Tabs>
      )}
      {current ? (
        <Held key={current.name} neighbour={current} mayPublish={mayPublish} />
      ) : (
        <Paper sx={{ p: 2 }}>
          <Typography variant="h2">No other environment is known here</Typography>
          <Typography>
            {mayAdminister
              ? 'Name one below: a connection to it, with a token of a person there who may look.'
              : 'An administrator may name one here.'}
          </Typography>
        </Paper>
      )}
      {mayAdminister && (
        <NameNeighbour key={`${current?.name} ${all.data.length}`} neighbour={current} />
      )}
    </Stack>
  );
}
