import { Box, Button, Paper, Stack, TextField, Typography } from '@mui/material';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, body, type Schemas } from '../../api/client';
import { useNow } from '../../api/live';
import { Waiting } from '../../parts/Notice';
import { localDate } from '../../parts/time';
import { weekdayOf } from '../../parts/year';
import { streamAddress } from '../streams/address';
import { firstOfMonth, holidaysOf, lengthOfMonth, monthName } from './month';

type Row = Schemas['MonthRow'];
type Cell = Schemas['MonthCell'];

/** A month of all streams: streams down, days across; a holiday shows as a broken column. */
export function MonthPage() {
  const today = localDate(useNow(60_000));
  const [from, setFrom] = useState(() => firstOfMonth(today, 0));
  const [text, setText] = useState('');
  const days = lengthOfMonth(from);
  const month = useQuery({
    queryKey: ['streams', 'month', from],
    queryFn: () =>
      body(api.GET('/api/v1/streams/month', { params: { query: { from, days, text: '' } } })),
    placeholderData: keepPreviousData,
  });
  if (!month.data) {
    return <Waiting error={month.error} what="The month" />;
  }
  const rows = month.data.streams.filter((row) =>
    `${row.stream} ${row.title} ${row.department}`.toLowerCase().includes(text.toLowerCase()),
  );
  const dates = month.data.streams[0]?.cells.map((cell) => cell.date) ?? [];
  const holidays = holidaysOf(rows);
  const columns = `230px repeat(${dates.length}, minmax(24px, 1fr))`;
  return (
    <Stack sx={{ gap: 1.5 }}>
      <Stack direction="row" sx={{ alignItems: 'center', gap: 1.5 }}>
        <Box sx={{ flex: 1 }}>
          <Typography variant="h1">{monthName(from)}</Typography>
          <Typography color="textSecondary">
            How often each stream starts on each business date. Point at a day for the reason.
          </Typography>
        </Box>
        <TextField
          size="small"
          label="Find a stream"
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
        <Button variant="outlined" onClick={() => setFrom(firstOfMonth(from, -1))}>
          ‹ {monthName(firstOfMonth(from, -1)).split(' ')[0]}
        </Button>
        <Button variant="outlined" onClick={() => setFrom(firstOfMonth(from, 1))}>
          {monthName(firstOfMonth(from, 1)).split(' ')[0]} ›
        </Button>
      </Stack>
      <Paper sx={{ overflowX: 'auto', p: 1 }}>
        <Box role="table" aria-label="Starts by stream and day" sx={{ minWidth: 980 }}>
          <Box role="row" sx={{ display: 'grid', gridTemplateColumns: columns }}>
            <Box role="columnheader" sx={{ fontSize: '0.8rem', pl: 0.5 }}>
              Stream
            </Box>
            {dates.map((date) => (
              <DayHead key={date} date={date} today={today} holiday={holidays[date]} />
            ))}
          </Box>
          {rows.map((row) => (
            <StreamRow key={row.stream} row={row} columns={columns} />
          ))}
        </Box>
      </Paper>
      <Stack direction="row" sx={{ gap: 2.5, flexWrap: 'wrap' }}>
        {Object.entries(holidays).map(([date, name]) => (
          <Typography key={date} variant="body2">
            <b>{Number(date.slice(8))}</b> {name}
          </Typography>
        ))}
      </Stack>
      <Typography variant="body2" color="textSecondary">
        A number: so many starts. Grey: its calendar is closed. Edged: a holiday takes the day away.
        Hatched: a guess, after what the calendar is known to. Dashed: paused.
      </Typography>
    </Stack>
  );
}

function DayHead({ date, today, holiday }: { date: string; today: string; holiday?: string }) {
  const weekend = weekdayOf(date) > 5;
  return (
    <Box
      role="columnheader"
      title={holiday}
      sx={(t) => ({
        textAlign: 'center',
        fontSize: '0.76rem',
        lineHeight: 1.25,
        pb: 0.4,
        fontWeight: holiday || date === today ? 750 : 500,
        color: holiday ? t.states.failed.text : weekend ? 'text.secondary' : 'text.primary',
        borderBottom: date === today ? '3px solid #c99a3a' : '3px solid transparent',
        background: holiday ? t.states.failed.fill : 'transparent',
        borderRadius: '5px 5px 0 0',
      })}
    >
      {['Mo', 'Tu', 'We', 'Th', 'Fr', 'Sa', 'Su'][weekdayOf(date) - 1]}
      <br />
      {Number(date.slice(8))}
    </Box>
  );
}

function StreamRow({ row, columns }: { row: Row; columns: string }) {
  return (
    <Box
      role="row"
      sx={{
        display: 'grid',
        gridTemplateColumns: columns,
        alignItems: 'center',
        borderTop: '1px solid',
        borderColor: 'divider',
      }}
    >
      <Box role="rowheader" sx={{ minWidth: 0 }}>
        <Typography
          component={Link}
          to={streamAddress(row.stream)}
          noWrap
          title={row.stream}
          sx={{
            display: 'block',
            color: 'inherit',
            textDecoration: 'none',
            fontSize: '0.88rem',
            fontWeight: 600,
          }}
        >
          {row.title}
          {row.paused && ' (paused)'}
        </Typography>
      </Box>
      {row.cells.map((cell) => (
        <DayCell key={cell.date} cell={cell} />
      ))}
    </Box>
  );
}

function DayCell({ cell }: { cell: Cell }) {
  const paused = cell.paused;
  const started = cell.starts > 0;
  const taken = !started && cell.holiday !== '';
  return (
    <Box
      role="cell"
      title={`${cell.date}: ${started ? `${cell.starts} starts${paused ? ', paused' : ''}` : 'no start'}${
        cell.guess ? ', a guess' : ''
      }; ${cell.reason}`}
      sx={(t) => {
        const fill = t.states.starting.fill;
        return {
          m: '1.5px',
          height: 24,
          display: 'grid',
          placeItems: 'center',
          fontSize: '0.78rem',
          fontWeight: 650,
          borderRadius: '5px',
          color: 'text.primary',
          background: started
            ? cell.guess
              ? `repeating-linear-gradient(135deg, ${fill} 0 4px, transparent 4px 7px)`
              : fill
            : taken
              ? t.states.failed.fill
              : cell.closed
                ? 'rgba(127,127,127,0.13)'
                : 'transparent',
          border: '1.5px solid transparent',
          ...(taken && { borderColor: t.states.failed.edge }),
          ...(paused &&
            started && { background: 'none', border: `1.5px dashed ${t.states.cancelled.edge}` }),
        };
      }}
    >
      {started ? cell.starts : ''}
    </Box>
  );
}
