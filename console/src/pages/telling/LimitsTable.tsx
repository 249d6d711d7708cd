import {
  LinearProgress,
  Paper,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  Typography,
} from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { api, body } from '../../api/client';
import { Waiting } from '../../parts/Notice';

/** How much may be told, and how much of that has been told. */
export function LimitsTable() {
  const limits = useQuery({
    queryKey: ['alert-limits'],
    queryFn: () => body(api.GET('/api/v1/alert-limits')),
    refetchInterval: 15_000,
  });
  if (!limits.data) {
    return <Waiting error={limits.error} what="Limits" />;
  }
  return (
    <section>
      <Typography variant="h2">Limits</Typography>
      <Typography color="textSecondary" sx={{ mb: 1 }}>
        {limits.data.length === 0
          ? 'Nothing is limited; alerts-of: site and recipients may say at-most.'
          : 'What is over a limit waits, and comes as one digest; nothing is lost.'}
      </Typography>
      {limits.data.length > 0 && (
        <Paper sx={{ overflowX: 'auto' }}>
          <Table size="small">
            <TableHead>
              <TableRow>
                {['Of', 'Within', 'Messages', '', 'Waiting for room'].map((name) => (
                  <TableCell key={name}>{name}</TableCell>
                ))}
              </TableRow>
            </TableHead>
            <TableBody>
              {limits.data.map((one) => (
                <TableRow key={`${one.of} ${one.within} ${one.urgent}`}>
                  <TableCell>{one.of}</TableCell>
                  <TableCell>
                    {one.within}
                    {one.urgent && ', urgent ones'}
                  </TableCell>
                  <TableCell>
                    {one.used} of {one.most}
                  </TableCell>
                  <TableCell sx={{ width: 200 }}>
                    <LinearProgress
                      variant="determinate"
                      aria-label={`${one.used} of ${one.most}`}
                      color={one.used >= one.most ? 'error' : 'primary'}
                      value={Math.min(100, (100 * one.used) / one.most)}
                    />
                  </TableCell>
                  <TableCell>{one.waiting || ''}</TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
        </Paper>
      )}
    </section>
  );
}
