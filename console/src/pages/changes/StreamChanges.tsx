import { Box, Button, Paper, Typography } from '@mui/material';
import { useState } from 'react';
import type { Schemas } from '../../api/client';
import { clock } from '../../parts/time';

type Change = Schemas['StartChange'];
type Stream = Schemas['StreamChange'];

const FEW = 6;
interface Mark {
  mark: string;
  state: 'running' | 'failed' | 'waiting';
}

const moved: Mark = { mark: '→', state: 'waiting' };
const marks: Partial<Record<string, Mark>> = {
  gained: { mark: '+', state: 'running' },
  lost: { mark: '−', state: 'failed' },
};

/** What a change does to the starts of one stream, date by date, each with its reason. */
export function StreamChanges({ stream, now }: { stream: Stream; now: number }) {
  const [all, setAll] = useState(false);
  const counts = (['gained', 'lost', 'moved'] as const)
    .filter((what) => stream[what] > 0)
    .map((what) => `${stream[what]} ${what}`)
    .join(', ');
  const shown = all ? stream.changes : stream.changes.slice(0, FEW);
  const hidden = stream.changes.length + stream.more - shown.length;
  return (
    <Paper sx={{ p: 2 }}>
      <Typography variant="h2">
        {stream.title}: {counts}
      </Typography>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 0.5 }}>
        {stream.stream}
        {stream.paused && ' · it is paused then, and none of this starts yet'}
      </Typography>
      {shown.map((change) => (
        <Line key={`${change.what} ${change.date} ${change.at}`} change={change} now={now} />
      ))}
      {hidden > 0 && !all && stream.changes.length > FEW && (
        <Button size="small" onClick={() => setAll(true)}>
          {hidden} more
        </Button>
      )}
      {all && stream.more > 0 && (
        <Typography variant="body2">and {stream.more} more that are not listed</Typography>
      )}
    </Paper>
  );
}

function Line({ change, now }: { change: Change; now: number }) {
  const { mark, state } = marks[change.what] ?? moved;
  const when =
    change.what !== 'moved'
      ? clock(change.at, now, false)
      : change.date === change.toDate
        ? `${clock(change.at, now, false)} → ${clock(change.toAt, now, false)}`
        : `→ ${day(change.toDate)}`;
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: '30px 132px 300px 62px 1fr',
        gap: 1,
        alignItems: 'baseline',
        py: 0.3,
      }}
    >
      <Box
        component="span"
        aria-label={change.what}
        sx={(t) => ({
          textAlign: 'center',
          fontWeight: 800,
          borderRadius: '5px',
          color: t.states[state].text,
          background: t.states[state].fill,
        })}
      >
        {mark}
      </Box>
      <Typography sx={{ fontWeight: 600 }}>{day(change.date)}</Typography>
      <Typography>{when}</Typography>
      <Typography color="textSecondary">
        {change.runs} {change.runs === 1 ? 'run' : 'runs'}
      </Typography>
      <Typography variant="body2" color="textSecondary">
        {change.guess && <b>a guess · </b>}
        {change.shift && <b>clock change: {change.shift} · </b>}
        {change.reason}
      </Typography>
    </Box>
  );
}

function day(date: string): string {
  const weekday = new Date(`${date}T00:00:00Z`).toLocaleDateString('en', {
    weekday: 'short',
    timeZone: 'UTC',
  });
  return `${date} ${weekday}`;
}
