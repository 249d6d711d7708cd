import {
  Box,
  Button,
  Paper,
  Stack,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from '@mui/material';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, body, type Schemas } from '../../api/client';
import { useNow } from '../../api/live';
import { DateField } from '../../parts/DateField';
import { Notice, Waiting } from '../../parts/Notice';
import { clock, span } from '../../parts/time';
import { countsSentence } from './scale';
import { Handover } from './Handover';
import { Timeline } from './Timeline';

/** What needs a person on top; below it the business date as a timeline of streams. */
export function TodayPage({ today, mayAct = false }: { today: string; mayAct?: boolean }) {
  const [chosen, setChosen] = useState('');
  const [hours, setHours] = useState(0);
  const now = useNow();
  const date = chosen || today;
  const day = useQuery({
    queryKey: ['today', date],
    queryFn: () => body(api.GET('/api/v1/today', { params: { query: { date } } })),
    placeholderData: keepPreviousData,
    refetchInterval: 15_000,
  });
  if (!day.data) {
    return <Waiting error={day.error} what="The business date" />;
  }
  return (
    <Stack sx={{ gap: 2.5 }}>
      <Needs needs={day.data.needs} now={now} />
      {date === today && <Handover mayAct={mayAct} />}
      <Stack direction="row" sx={{ alignItems: 'center', gap: 2 }}>
        <Box sx={{ flex: 1 }}>
          <Typography variant="h1">
            {date === today ? 'Today' : 'Business date'}, {date}
          </Typography>
          <Typography color="textSecondary">{countsSentence(day.data.counts)}</Typography>
        </Box>
        <ToggleButtonGroup
          size="small"
          exclusive
          value={hours}
          aria-label="How much of the day"
          onChange={(_, value: number | null) => value !== null && setHours(value)}
        >
          <ToggleButton value={0}>Whole day</ToggleButton>
          <ToggleButton value={6}>6 hours</ToggleButton>
          <ToggleButton value={1}>1 hour</ToggleButton>
        </ToggleButtonGroup>
        <DateField label="Business date" value={date} onChange={setChosen} />
      </Stack>
      {day.data.streams.length === 0 ? (
        <Notice
          title="Nothing is planned on this date"
          text="Publish definitions, or choose another business date."
        />
      ) : (
        <Timeline
          streams={day.data.streams}
          date={date}
          now={now}
          hours={hours}
          isToday={date === today}
        />
      )}
    </Stack>
  );
}

type Need = Schemas['NeedView'];

function Needs({ needs, now }: { needs: Need[]; now: number }) {
  const [all, setAll] = useState(false);
  const shown = all ? needs : needs.slice(0, 5);
  return (
    <Paper component="section" aria-label="What needs a person" sx={{ overflow: 'hidden' }}>
      <Stack direction="row" sx={{ px: 2, py: 1.2, alignItems: 'baseline', gap: 1.5 }}>
        <Typography variant="h2">
          {needs.length === 0
            ? 'Nothing needs you'
            : `${needs.length} ${needs.length === 1 ? 'thing needs' : 'things need'} a person`}
        </Typography>
        {needs.length === 0 && (
          <Typography color="textSecondary">
            Everything that is due runs, or waits for something that comes by itself.
          </Typography>
        )}
        <Box sx={{ flex: 1 }} />
        {needs.length > 5 && (
          <Button size="small" onClick={() => setAll(!all)}>
            {all ? 'Show fewer' : `Show all ${needs.length}`}
          </Button>
        )}
      </Stack>
      {shown.map((need, index) => (
        <Box
          key={`${need.kind} ${need.run} ${index}`}
          component={Link}
          to={need.page}
          sx={{
            display: 'grid',
            gridTemplateColumns: '150px minmax(300px, 27%) 1fr 150px',
            gap: 2,
            alignItems: 'baseline',
            px: 2,
            py: 0.9,
            color: 'inherit',
            textDecoration: 'none',
            borderTop: '1px solid',
            borderColor: 'divider',
            '&:hover': { background: 'action.hover' },
          }}
        >
          <Typography
            sx={(theme) => ({
              fontWeight: 700,
              borderLeft: `4px solid ${theme.states[need.urgent ? 'failed' : 'waiting'].edge}`,
              pl: 1.2,
            })}
          >
            {need.kindTitle}
          </Typography>
          <Typography sx={{ fontWeight: 600 }}>{need.title}</Typography>
          <Typography variant="body2">{need.text}</Typography>
          <Typography variant="body2" color="textSecondary" sx={{ textAlign: 'right' }}>
            {need.since
              ? `${clock(need.since, now, false)}, ${span(now - Date.parse(need.since))} ago`
              : ''}
          </Typography>
        </Box>
      ))}
    </Paper>
  );
}
