import { Box, Button, MenuItem, Paper, Stack, TextField, Typography } from '@mui/material';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, body, type Schemas } from '../../api/client';
import { Notice, Waiting } from '../../parts/Notice';
import { months, weekdayOf, type Month } from './year';

type Day = Schemas['DayView'];

/** A calendar's year: every day, open or closed, holidays by their names. */
export function CalendarsPage() {
  const [chosen, setChosen] = useState('');
  const [year, setYear] = useState(() => new Date().getFullYear());
  const calendars = useQuery({
    queryKey: ['calendars'],
    queryFn: () => body(api.GET('/api/v1/calendars')),
  });
  const name =
    chosen ||
    calendars.data?.find((one) => one.kind === 'business' && one.builtOn.length > 0)?.name ||
    calendars.data?.[0]?.name ||
    '';
  const days = useQuery({
    queryKey: ['calendars', name, year],
    queryFn: () =>
      body(api.GET('/api/v1/calendars/{name}/years/{year}', { params: { path: { name, year } } })),
    enabled: name !== '',
    placeholderData: keepPreviousData,
  });
  if (!calendars.data || !days.data) {
    return <Waiting error={calendars.error ?? days.error} what="Calendars" />;
  }
  const calendar = calendars.data.find((one) => one.name === name);
  const open = days.data.days.filter((day) => day.open).length;
  return (
    <Stack sx={{ gap: 2 }}>
      <Stack direction="row" sx={{ alignItems: 'center', gap: 2 }}>
        <Box sx={{ flex: 1 }}>
          <Typography variant="h1">
            {calendar?.title ?? name}, {year}
          </Typography>
          <Typography color="textSecondary">
            {days.data.kind === 'business'
              ? `${open} working days; closed on the holidays of ${
                  calendar?.builtOn.join(' and ') || 'no calendar'
                }`
              : `${365 - open > 0 ? days.data.days.length - open : 0} holidays`}
          </Typography>
        </Box>
        <TextField
          select
          size="small"
          label="Calendar"
          value={name}
          onChange={(e) => setChosen(e.target.value)}
          sx={{ minWidth: 230 }}
        >
          {calendars.data.map((one) => (
            <MenuItem key={`${one.kind} ${one.name}`} value={one.name}>
              {one.title}
            </MenuItem>
          ))}
        </TextField>
        <Button variant="outlined" onClick={() => setYear(year - 1)} aria-label="Year before">
          ‹ {year - 1}
        </Button>
        <Button variant="outlined" onClick={() => setYear(year + 1)} aria-label="Year after">
          {year + 1} ›
        </Button>
      </Stack>
      {days.data.days.length === 0 ? (
        <Notice title="No days" text="This year cannot be shown." />
      ) : (
        <Box
          sx={{
            display: 'grid',
            gridTemplateColumns: 'repeat(auto-fill, minmax(285px, 1fr))',
            gap: 1.5,
          }}
        >
          {months(days.data.days).map((month) => (
            <MonthCard key={month.name} month={month} />
          ))}
        </Box>
      )}
    </Stack>
  );
}

function MonthCard({ month }: { month: Month<Day> }) {
  const named = month.days.filter((day) => day.name);
  return (
    <Paper sx={{ p: 1.5 }}>
      <Typography variant="h3" sx={{ mb: 0.5 }}>
        {month.name}
      </Typography>
      <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(7, 1fr)', gap: '3px' }}>
        {['Mo', 'Tu', 'We', 'Th', 'Fr', 'Sa', 'Su'].map((day) => (
          <Typography
            key={day}
            variant="body2"
            color="textSecondary"
            sx={{ textAlign: 'center', fontSize: '0.74rem' }}
          >
            {day}
          </Typography>
        ))}
        {month.days.map((day, index) => (
          <DayCell
            key={day.date}
            day={day}
            column={index === 0 ? weekdayOf(day.date) : undefined}
          />
        ))}
      </Box>
      {named.map((day) => (
        <Typography key={day.date} variant="body2" sx={{ mt: 0.4, fontSize: '0.8rem' }}>
          <b>{Number(day.date.slice(8))}</b> {day.name}
        </Typography>
      ))}
    </Paper>
  );
}

function DayCell({ day, column }: { day: Day; column?: number }) {
  return (
    <Box
      title={`${day.date}: ${day.open ? 'open' : 'closed'}${day.name ? `, ${day.name}` : ''}`}
      sx={(t) => ({
        gridColumnStart: column,
        textAlign: 'center',
        fontSize: '0.8rem',
        py: '2px',
        borderRadius: '6px',
        fontWeight: day.name ? 750 : day.open ? 600 : 400,
        color: day.name ? t.states.failed.text : day.open ? 'text.primary' : 'text.secondary',
        background: day.name
          ? t.states.failed.fill
          : day.open
            ? t.states.starting.fill
            : 'transparent',
        textDecoration: day.open || day.name ? 'none' : 'line-through',
        border: day.name ? `1.5px solid ${t.states.failed.edge}` : '1.5px solid transparent',
      })}
    >
      {Number(day.date.slice(8))}
    </Box>
  );
}
