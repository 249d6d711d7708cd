import { Autocomplete, Button, Paper, Stack, TextField, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, body, type Schemas } from '../../api/client';
import { useDoing } from '../../parts/doing';
import { MapField } from '../parcels/MapField';

/** How another environment is reached, and what is called otherwise here; administrators say. */
export function NameNeighbour({ neighbour }: { neighbour?: Schemas['NeighbourView'] }) {
  const [name, setName] = useState(neighbour?.name ?? '');
  const [connection, setConnection] = useState(neighbour?.connection ?? '');
  const [map, setMap] = useState(neighbour?.map ?? '');
  const doing = useDoing('neighbours');
  const connections = useQuery({
    queryKey: ['connections'],
    queryFn: () => body(api.GET('/api/v1/connections')),
  });
  const path = { params: { path: { name: name.trim() } } };
  const save = () =>
    doing.act(() =>
      body(api.PUT('/api/v1/neighbours/{name}', { ...path, body: { connection, map } })),
    );
  const forget = () => doing.act(() => api.DELETE('/api/v1/neighbours/{name}', path));
  return (
    <Paper component="details" open={!neighbour || undefined} sx={{ p: 2 }}>
      <Typography component="summary" variant="h2" sx={{ cursor: 'pointer' }}>
        {neighbour ? 'How it is reached, or another one' : 'Name another environment'}
      </Typography>
      <Stack sx={{ gap: 1.5, mt: 1.5 }}>
        <Stack direction="row" sx={{ gap: 1.5 }}>
          <TextField
            size="small"
            label="Name"
            value={name}
            helperText="What it is called here, such as test"
            onChange={(e) => setName(e.target.value)}
          />
          <Autocomplete
            size="small"
            options={(connections.data ?? [])
              .filter((one) => one.kind === 'http')
              .map((one) => one.name)}
            value={connection || null}
            onChange={(_, to) => setConnection(to ?? '')}
            sx={{ flex: 1 }}
            renderInput={(params) => (
              <TextField
                {...params}
                label="Connection"
                helperText="Its address is that of the other service; sign-in: bearer, with a token of somebody there who may look"
              />
            )}
          />
        </Stack>
        <MapField map={map} onMap={setMap} />
        {doing.problem && (
          <Typography role="alert" color="error">
            {doing.problem}
          </Typography>
        )}
        <Stack direction="row" sx={{ gap: 1.5 }}>
          <Button
            variant="contained"
            disabled={name.trim() === '' || connection === '' || doing.busy}
            onClick={save}
          >
            {name.trim() === neighbour?.name ? 'Set' : 'Name it'}
          </Button>
          {neighbour && name.trim() === neighbour.name && (
            <Button variant="outlined" disabled={doing.busy} onClick={forget}>
              Forget it
            </Button>
          )}
        </Stack>
      </Stack>
    </Paper>
  );
}
