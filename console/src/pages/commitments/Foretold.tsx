import {
  Box,
  Paper,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, body } from '../../api/client';

const horizons: Record<string, string> = {
  begin: 'when it began',
  '4h': '4 h before',
  '2h': '2 h before',
  '1h': '1 h before',
  '15m': '15 min before',
  alerts: 'told by alerts',
};

/** How well was foretold, held against what came. */
export function Foretold() {
  const [days, setDays] = useState(30);
  const found = useQuery({
    queryKey: ['foretold', days],
    queryFn: () => body(api.GET('/api/v1/foretold', { params: { query: { days } } })),
    refetchInterval: 60_000,
  });
  const rows = (found.data ?? []).filter((row) => row.count > 0);
  return (
    <Paper sx={{ p: 2, overflowX: 'auto' }}>
      <Box sx={{ display: 'flex', gap: 2, alignItems: 'center', flexWrap: 'wrap' }}>
        <Typography variant="h2" sx={{ flex: 1 }}>
          How true the forecasts were
        </Typography>
        <ToggleButtonGroup
          size="small"
          exclusive
          value={days}
          aria-label="Over how many days"
          onChange={(_, picked: number | null) => picked && setDays(picked)}
        >
          <ToggleButton value={30}>30 days</ToggleButton>
          <ToggleButton value={90}>90 days</ToggleButton>
        </ToggleButtonGroup>
      </Box>
      {found.error && <Typography color="error">{found.error.message}</Typography>}
      {found.data && rows.length === 0 && (
        <Typography color="textSecondary">Nothing has been foretold and ended yet.</Typography>
      )}
      {rows.length > 0 && (
        <>
          <Typography variant="body2" color="textSecondary">
            A good forecast has nine of ten ends by its latest end, and half of them by its likely
            one.
          </Typography>
          <Table size="small" sx={{ mt: 1 }}>
            <TableHead>
              <TableRow>
                <TableCell>Foretold</TableCell>
                <TableCell align="right">Promises</TableCell>
                <TableCell align="right">By the latest end</TableCell>
                <TableCell align="right">By the likely end</TableCell>
                <TableCell align="right">Off by</TableCell>
                <TableCell align="right">Late</TableCell>
                <TableCell align="right">Warned of</TableCell>
                <TableCell align="right">Came to nothing</TableCell>
                <TableCell align="right">Before the promise</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {rows.map((row) => (
                <TableRow key={row.horizon}>
                  <TableCell>{horizons[row.horizon] ?? row.horizon}</TableCell>
                  <TableCell align="right">{row.count}</TableCell>
                  <TableCell align="right">{percent(row.within90)}</TableCell>
                  <TableCell align="right">{percent(row.within50)}</TableCell>
                  <TableCell align="right">{off(row.minutesOff)}</TableCell>
                  <TableCell align="right">{row.late}</TableCell>
                  <TableCell align="right">{row.warned}</TableCell>
                  <TableCell align="right">{row.cameToNothing}</TableCell>
                  <TableCell align="right">{off(row.minutesBefore)}</TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
        </>
      )}
    </Paper>
  );
}

function percent(share: number | undefined | null): string {
  return share === undefined || share === null ? '' : `${Math.round(share * 100)} %`;
}

function off(minutes: number | undefined | null): string {
  if (minutes === undefined || minutes === null) {
    return '';
  }
  return minutes < 1 ? `${Math.round(minutes * 60)} s` : `${minutes.toFixed(1)} min`;
}
