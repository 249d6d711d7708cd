import {
  Box,
  Button,
  Collapse,
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
import { useState } from 'react';
import { api, body } from '../../api/client';
import { columnsOf } from './columns';

/** How many alerts there were by day and kind, and what became of those of each rule. */
export function Sums() {
  const [open, setOpen] = useState(false);
  const sums = useQuery({
    queryKey: ['alert-sums'],
    queryFn: () => body(api.GET('/api/v1/alert-sums', { params: { query: { days: 30 } } })),
    enabled: open,
  });
  const columns = sums.data ? columnsOf(sums.data) : undefined;
  return (
    <Box>
      <Button onClick={() => setOpen(!open)} aria-expanded={open}>
        {open ? 'Hide' : 'Show'} the last 30 days: by day, and what each rule made
      </Button>
      <Collapse in={open} unmountOnExit>
        {columns && sums.data && (
          <Paper sx={{ p: 2 }}>
            <Stack direction="row" sx={{ alignItems: 'flex-end', gap: '3px', height: 150 }}>
              {columns.days.map((day) => (
                <Stack
                  key={day.date}
                  direction="column-reverse"
                  title={day.title}
                  sx={{ flex: 1, height: '100%' }}
                >
                  {day.parts.map((part) => (
                    <Box
                      key={part.kind}
                      sx={{ height: `${part.share}%`, background: part.color, minHeight: '2px' }}
                    />
                  ))}
                </Stack>
              ))}
            </Stack>
            <Stack direction="row" sx={{ justifyContent: 'space-between' }}>
              <Typography variant="body2">{sums.data.from}</Typography>
              <Typography variant="body2" color="textSecondary">
                most on one day: {columns.most}
              </Typography>
              <Typography variant="body2">{sums.data.to}</Typography>
            </Stack>
            <Stack direction="row" sx={{ gap: 2, flexWrap: 'wrap', my: 1 }}>
              {columns.kinds.map((kind) => (
                <Stack key={kind.kind} direction="row" sx={{ alignItems: 'center', gap: 0.7 }}>
                  <Box sx={{ width: 12, height: 12, background: kind.color }} />
                  <Typography variant="body2">{kind.title}</Typography>
                </Stack>
              ))}
            </Stack>
            <Table size="small">
              <TableHead>
                <TableRow>
                  {[
                    'Alerts',
                    'Kind',
                    'Rule',
                    'Stream',
                    'Taken on',
                    'Over by itself',
                    'Closed by hand',
                    'Ignored',
                    'Part of another',
                  ].map((name) => (
                    <TableCell key={name}>{name}</TableCell>
                  ))}
                </TableRow>
              </TableHead>
              <TableBody>
                {sums.data.sums.slice(0, 20).map((one) => (
                  <TableRow key={`${one.kind} ${one.rule} ${one.stream}`}>
                    <TableCell>{one.count}</TableCell>
                    <TableCell>{one.kindTitle}</TableCell>
                    <TableCell>{one.rule}</TableCell>
                    <TableCell>{one.stream}</TableCell>
                    <TableCell>{one.takenOn || ''}</TableCell>
                    <TableCell>{one.byItself || ''}</TableCell>
                    <TableCell>{one.byPerson || ''}</TableCell>
                    <TableCell>{one.ignored || ''}</TableCell>
                    <TableCell>{one.parts || ''}</TableCell>
                  </TableRow>
                ))}
              </TableBody>
            </Table>
          </Paper>
        )}
      </Collapse>
    </Box>
  );
}
