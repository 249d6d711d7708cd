import { Box, Button, MenuItem, Stack, TextField, Typography } from '@mui/material';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { api, body, type Schemas } from '../../api/client';
import { useNow } from '../../api/live';
import { Notice, Waiting } from '../../parts/Notice';
import { clock } from '../../parts/time';
import { YearGrid } from '../../parts/YearGrid';

type Calendar = Schemas['CalendarView'];

/** A calendar's year: every day, open or closed, holidays by their names, and how far it is good. */
export function CalendarsPage({ mayPublish }: { mayPublish: boolean }) {
  const go = useNavigate();
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
      <Stack direction="row" sx={{ alignItems: 'center', gap: 1.5 }}>
        <Box sx={{ flex: 1 }}>
          <Typography variant="h1">
            {calendar?.title ?? name}, {year}
          </Typography>
          <Typography color="textSecondary">
            {days.data.kind === 'business'
              ? `${open} working days; built on ${calendar?.builtOn.join(' and ') || 'no calendar'}`
              : `${days.data.days.length - open} holidays`}
            {calendar && <Facts calendar={calendar} />}
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
        {mayPublish && calendar && calendar.name !== 'monday-to-friday' && !calendar.source && (
          <Button
            variant="outlined"
            onClick={() =>
              void go(`/calendar-editor?kind=${calendar.kind}&name=${encodeURIComponent(name)}`)
            }
          >
            Change it
          </Button>
        )}
        <Button
          variant="text"
          href={`/api/v1/calendars/${encodeURIComponent(name)}/export?from=${year}-01-01&to=${year}-12-31`}
        >
          As .ics
        </Button>
      </Stack>
      {days.data.days.length === 0 ? (
        <Notice title="No days" text="This year cannot be shown." />
      ) : (
        <YearGrid
          days={days.data.days.map((day) => ({ ...day, on: day.open }))}
          on="open"
          off="closed"
        />
      )}
    </Stack>
  );
}

/** How far it is good, where it comes from, who looks at it. */
function Facts({ calendar }: { calendar: Calendar }) {
  const now = useNow(60_000);
  const used = calendar.usedBy.length;
  return (
    <>
      {calendar.knownTo && (
        <b>{` · known to ${calendar.knownTo}; later days are a guess (hatched)`}</b>
      )}
      {used > 0 && ` · used by ${used === 1 ? calendar.usedBy[0] : `${used} streams`}`}
      {calendar.source &&
        ` · fetched from ${calendar.source} ${clock(calendar.fetched, now, false)}`}
      {calendar.fetchError && (
        <Typography component="span" color="error">
          {` · cannot be fetched now: ${calendar.fetchError}`}
        </Typography>
      )}
    </>
  );
}
