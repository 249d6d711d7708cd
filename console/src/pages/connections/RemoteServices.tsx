import {
  Paper,
  Stack,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  Typography,
} from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { api, body, type Schemas } from '../../api/client';
import { Waiting } from '../../parts/Notice';

type Service = Schemas['ServiceView'];

/** What each remote service can be asked for, and which jobs do. */
export function RemoteServices() {
  const all = useQuery({
    queryKey: ['remote-services'],
    queryFn: () => body(api.GET('/api/v1/remote-services')),
  });
  if (!all.data) {
    return <Waiting error={all.error} what="Remote services" />;
  }
  return (
    <section aria-label="Remote services">
      <Typography variant="h2">Remote services</Typography>
      {all.data.length === 0 && <Typography>No remote service is described.</Typography>}
      <Stack sx={{ gap: 2, mt: 1 }}>
        {all.data.map((one) => (
          <Described key={one.name} one={one} />
        ))}
      </Stack>
    </section>
  );
}

function Described({ one }: { one: Service }) {
  return (
    <Paper sx={{ p: 2, overflowX: 'auto' }}>
      <Typography sx={{ fontWeight: 700 }}>{one.title}</Typography>
      <Typography color="textSecondary">
        {one.name}, by the connection {one.connection}
        {one.about && `. ${one.about}`}
      </Typography>
      <Table size="small" sx={{ mt: 1 }}>
        <TableHead>
          <TableRow>
            {['Operation', 'Asks for', 'Can', 'After a crash, known again', 'Called by'].map(
              (name) => (
                <TableCell key={name}>{name}</TableCell>
              ),
            )}
          </TableRow>
        </TableHead>
        <TableBody>
          {one.operations.map((operation) => (
            <TableRow key={operation.name}>
              <TableCell>
                <b>{operation.name}</b>
                {operation.title !== operation.name && (
                  <Typography variant="body2" color="textSecondary">
                    {operation.title}
                  </Typography>
                )}
              </TableCell>
              <TableCell>{operation.asksFor.join(', ')}</TableCell>
              <TableCell>{['start', 'look', ...operation.can].join(', ')}</TableCell>
              <TableCell>{operation.knownAgain}</TableCell>
              <TableCell>{operation.jobs.join(', ') || 'no job'}</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </Paper>
  );
}
