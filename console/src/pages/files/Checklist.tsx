import {
  Box,
  Button,
  Paper,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  Typography,
} from '@mui/material';
import type { Schemas } from '../../api/client';
import { StateMark } from '../../parts/StateMark';
import { clock } from '../../parts/time';
import { byNeed, lookOf } from './standing';

export type Watch = Schemas['WatchView'];

interface ChecklistProps {
  watches: Watch[];
  now: number;
  onShow: (watch: string) => void;
  onTry: (watch: Watch) => void;
}

/** The files of a business date: which have come, which are still to come. */
export function Checklist({ watches, now, onShow, onTry }: ChecklistProps) {
  return (
    <Paper sx={{ overflow: 'auto' }}>
      <Table size="small">
        <TableHead>
          <TableRow>
            <TableCell>File</TableCell>
            <TableCell>Standing</TableCell>
            <TableCell sx={{ whiteSpace: 'nowrap' }}>Due by</TableCell>
            <TableCell>Usually</TableCell>
            <TableCell>Came</TableCell>
            <TableCell>Under way</TableCell>
            <TableCell>Look</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {byNeed(watches).map((watch) => (
            <TableRow key={watch.name} hover>
              <TableCell>
                <Typography sx={{ fontWeight: 650 }}>{watch.title}</Typography>
                <Typography variant="body2" color="textSecondary">
                  {watch.name} on {watch.place}
                </Typography>
                {watch.troubles.map((text) => (
                  <Typography key={text} variant="body2" color="error" sx={{ maxWidth: 460 }}>
                    {text}
                  </Typography>
                ))}
              </TableCell>
              <TableCell>
                <StateMark state={watch.standing} look={lookOf(watch.standing)} />
              </TableCell>
              <TableCell sx={{ whiteSpace: 'nowrap' }}>{clock(watch.by, now, false)}</TableCell>
              <TableCell sx={{ whiteSpace: 'nowrap' }}>
                {clock(watch.usually, now, false)}
                {watch.usuallyBy && (
                  <Typography variant="body2" color="textSecondary">
                    by {clock(watch.usuallyBy, now, false)} nearly always
                  </Typography>
                )}
              </TableCell>
              <TableCell sx={{ whiteSpace: 'nowrap' }}>{came(watch, now)}</TableCell>
              <TableCell>{underWay(watch)}</TableCell>
              <TableCell align="right">
                <Box sx={{ display: 'flex', gap: 1, justifyContent: 'flex-end' }}>
                  <Button size="small" onClick={() => onShow(watch.name)}>
                    Arrivals
                  </Button>
                  <Button size="small" onClick={() => onTry(watch)}>
                    Try
                  </Button>
                </Box>
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </Paper>
  );
}

function came(watch: Watch, now: number): string {
  if (watch.setOf > 1 && !watch.came) {
    return watch.count > 0 ? `${watch.count} of ${watch.setOf}` : '';
  }
  const time = clock(watch.came, now, false);
  return watch.count > 1 && watch.setOf === 1 && time ? `${watch.count}, the first ${time}` : time;
}

function underWay(watch: Watch): string {
  return ['unprocessed', 'rejected', 'seen', 'settling', 'ready', 'taken']
    .filter((state) => (watch.states[state] ?? 0) > 0)
    .map((state) => `${watch.states[state]} ${state}`)
    .join(', ');
}
