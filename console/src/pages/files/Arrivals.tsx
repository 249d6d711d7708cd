import {
  Button,
  Checkbox,
  Link,
  Paper,
  Stack,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  Typography,
} from '@mui/material';
import { Link as RouterLink } from 'react-router';
import type { Schemas } from '../../api/client';
import { usePicking } from '../../parts/picking';
import { StateMark } from '../../parts/StateMark';
import { bytes, clock } from '../../parts/time';
import { lookOf, shown } from './standing';

export type Arrival = Schemas['ArrivalView'];
export type Decision = 'retry' | 'put-aside' | 'done';

interface ArrivalsProps {
  arrivals: Arrival[];
  now: number;
  /** Absent where the viewer may only look. */
  onDecide?: (decision: Decision, arrivals: Arrival[]) => void;
}

/** Files that were found, with what has become of them; those that wait for a person can be chosen. */
export function Arrivals({ arrivals, now, onDecide }: ArrivalsProps) {
  const { picked, all, some, isPicked, toggle, toggleAll, clear } = usePicking(arrivals);
  const decide = (decision: Decision) => {
    onDecide?.(decision, picked);
    clear();
  };
  return (
    <Stack sx={{ gap: 1 }}>
      {onDecide && (
        <Stack direction="row" sx={{ gap: 1, alignItems: 'center' }}>
          <Button
            size="small"
            variant="outlined"
            disabled={picked.length === 0}
            onClick={() => decide('retry')}
          >
            Try again
          </Button>
          <Button
            size="small"
            variant="outlined"
            disabled={picked.length === 0}
            onClick={() => decide('put-aside')}
          >
            Put aside
          </Button>
          <Button
            size="small"
            variant="outlined"
            disabled={picked.length === 0}
            onClick={() => decide('done')}
          >
            Mark as done
          </Button>
          <Typography variant="body2" color="textSecondary">
            {picked.length > 0 ? `${picked.length} chosen` : 'Choose files to decide on them'}
          </Typography>
        </Stack>
      )}
      <Paper sx={{ overflow: 'auto' }}>
        <Table size="small">
          <TableHead>
            <TableRow>
              {onDecide && (
                <TableCell padding="checkbox">
                  <Checkbox
                    size="small"
                    checked={all}
                    indeterminate={some && !all}
                    onChange={toggleAll}
                    slotProps={{ input: { 'aria-label': 'choose all that are listed' } }}
                  />
                </TableCell>
              )}
              <TableCell>Found</TableCell>
              <TableCell>File</TableCell>
              <TableCell>State</TableCell>
              <TableCell>What has become of it</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {arrivals.map((one) => (
              <TableRow key={one.id} hover selected={isPicked(one)}>
                {onDecide && (
                  <TableCell padding="checkbox">
                    <Checkbox
                      size="small"
                      checked={isPicked(one)}
                      onChange={toggle(one)}
                      slotProps={{ input: { 'aria-label': `choose ${one.name}` } }}
                    />
                  </TableCell>
                )}
                <TableCell sx={{ whiteSpace: 'nowrap' }}>
                  {clock(one.found, now)}
                  <Typography variant="body2" color="textSecondary">
                    no {one.id}
                  </Typography>
                </TableCell>
                <TableCell>
                  <Typography sx={{ fontWeight: 650, overflowWrap: 'anywhere' }}>
                    {shown(one.name)}
                  </Typography>
                  <Typography variant="body2" color="textSecondary">
                    {one.watch} on {one.place} · {bytes(one.size)}
                    {one.date && ` · for ${one.date}`}
                  </Typography>
                </TableCell>
                <TableCell>
                  <StateMark state={one.state} look={lookOf(one.state)} />
                </TableCell>
                <TableCell sx={{ overflowWrap: 'anywhere' }}>
                  {one.run > 0 && one.reference && (
                    <Link component={RouterLink} to={`/runs/${one.run}`}>
                      {one.reference}
                    </Link>
                  )}
                  <Typography variant="body2" color="textSecondary">
                    {[reason(one), one.afterUse].filter(Boolean).join(' · ')}
                  </Typography>
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      </Paper>
    </Stack>
  );
}

/** The note without the reference that stands above it anyway. */
function reason(one: Arrival): string {
  return one.reference && one.note.startsWith(one.reference)
    ? one.note.slice(one.reference.length).trim()
    : one.note;
}
