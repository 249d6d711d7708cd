import {
  Button,
  MenuItem,
  Stack,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TextField,
  Typography,
} from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, body } from '../../api/client';
import { useNow } from '../../api/live';
import { useDoing } from '../../parts/doing';
import { Waiting } from '../../parts/Notice';
import { clock } from '../../parts/time';

/** Which secrets of the service's host connections may use, and for whom; none is shown. */
export function Permits() {
  const now = useNow(60_000);
  const [source, setSource] = useState('variable');
  const [name, setName] = useState('');
  const [address, setAddress] = useState('');
  const { act, problem, busy } = useDoing('secrets');
  const permits = useQuery({
    queryKey: ['secrets'],
    queryFn: () => body(api.GET('/api/v1/secrets')),
  });
  if (!permits.data) {
    return <Waiting error={permits.error} what="Secrets" />;
  }
  const allow = async () => {
    const done = await act(() =>
      body(api.POST('/api/v1/secrets', { body: { source, name, address, reason: '' } })),
    );
    if (done) {
      setName('');
      setAddress('');
    }
  };
  return (
    <section aria-label="Secrets of connections">
      <Typography variant="h2">Secrets of connections</Typography>
      <Typography color="textSecondary">
        A connection may use a stored secret, or a variable or file of the service’s host, only for
        an address that stands here.
      </Typography>
      {permits.data.length > 0 && (
        <Table size="small">
          <TableHead>
            <TableRow>
              {['In', 'Name', 'For', 'Used by', 'Since', 'Allowed by', ''].map((title) => (
                <TableCell key={title}>{title}</TableCell>
              ))}
            </TableRow>
          </TableHead>
          <TableBody>
            {permits.data.map((one) => (
              <TableRow key={one.id}>
                <TableCell>{one.source}</TableCell>
                <TableCell>{one.name}</TableCell>
                <TableCell>{one.address}</TableCell>
                <TableCell>{one.usedBy.join(', ') || 'nobody'}</TableCell>
                <TableCell>{clock(one.since, now)}</TableCell>
                <TableCell>{one.who}</TableCell>
                <TableCell align="right">
                  <Button
                    size="small"
                    color="error"
                    aria-label={`Take back ${one.name}`}
                    onClick={() =>
                      act(() =>
                        body(
                          api.DELETE('/api/v1/secrets/{id}', { params: { path: { id: one.id } } }),
                        ),
                      )
                    }
                  >
                    Take back
                  </Button>
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      )}
      <Stack direction="row" sx={{ gap: 1, alignItems: 'center', mt: 1.5 }}>
        <TextField
          select
          size="small"
          label="In a"
          value={source}
          onChange={(e) => setSource(e.target.value)}
          sx={{ width: 150 }}
        >
          <MenuItem value="stored">stored secret</MenuItem>
          <MenuItem value="variable">variable</MenuItem>
          <MenuItem value="file">file</MenuItem>
        </TextField>
        <TextField
          size="small"
          label={source === 'file' ? 'Its path' : 'Its name'}
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
        <TextField
          size="small"
          label="For the address"
          value={address}
          onChange={(e) => setAddress(e.target.value)}
          sx={{ width: 280 }}
        />
        <Button variant="outlined" disabled={!name || !address || busy} onClick={allow}>
          Allow
        </Button>
      </Stack>
      {problem && (
        <Typography color="error" role="alert">
          {problem}
        </Typography>
      )}
    </section>
  );
}
