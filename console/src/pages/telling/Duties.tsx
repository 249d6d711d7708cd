import { Box, Button, Paper, Stack, Tooltip, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, body, type Schemas } from '../../api/client';
import { useNow } from '../../api/live';
import { Notice, Waiting } from '../../parts/Notice';
import { clock } from '../../parts/time';
import { colorOf, daysOf } from './strip';

type Duty = Schemas['DutyView'];

/** All duties: who has each now, and day by day. */
export function Duties() {
  const now = useNow();
  const duties = useQuery({
    queryKey: ['duties'],
    queryFn: () => body(api.GET('/api/v1/duties')),
    refetchInterval: 60_000,
  });
  if (!duties.data) {
    return <Waiting error={duties.error} what="Duties" />;
  }
  return (
    <section>
      <Typography variant="h2" sx={{ mb: 1 }}>
        On duty
      </Typography>
      {duties.data.length === 0 && (
        <Notice
          title="There is no duty"
          text="A definition that begins with duty: says who is on duty at which time."
        />
      )}
      <Stack sx={{ gap: 1.5 }}>
        {duties.data.map((duty) => (
          <DutyCard key={duty.name} duty={duty} now={now} />
        ))}
      </Stack>
    </section>
  );
}

function DutyCard({ duty, now }: { duty: Duty; now: number }) {
  const [days, setDays] = useState(14);
  const stretches = useQuery({
    queryKey: ['duties', duty.name, days],
    queryFn: () =>
      body(
        api.GET('/api/v1/duties/{name}', {
          params: { path: { name: duty.name }, query: { days } },
        }),
      ),
    placeholderData: (before) => before,
  });
  const people = [...new Set((stretches.data ?? []).flatMap((one) => one.who))].sort();
  return (
    <Paper sx={{ p: 2 }}>
      <Stack direction="row" sx={{ alignItems: 'baseline', gap: 1 }}>
        <Typography sx={{ fontWeight: 700 }}>{duty.title}</Typography>
        <Typography variant="body2" color="textSecondary" sx={{ flex: 1 }}>
          {duty.name}, by the clock of {duty.zone}
        </Typography>
        <Button size="small" onClick={() => setDays(days === 14 ? 35 : 14)}>
          {days === 14 ? 'Five weeks' : 'Two weeks'}
        </Button>
      </Stack>
      <Typography>
        Now {duty.now.length === 0 ? 'nobody' : duty.now.join(', ')}
        {duty.until && `, until ${clock(duty.until, now, false)}; then ${duty.next.join(', ')}`}
      </Typography>
      <Stack direction="row" sx={{ gap: 2, flexWrap: 'wrap', my: 1 }}>
        {people.map((one) => (
          <Stack key={one} direction="row" sx={{ alignItems: 'center', gap: 0.7 }}>
            <Box sx={{ width: 12, height: 12, background: colorOf(one, people) }} />
            <Typography variant="body2">{one}</Typography>
          </Stack>
        ))}
      </Stack>
      <Stack direction="row" sx={{ ml: '110px', justifyContent: 'space-between' }}>
        {['00', '06', '12', '18', '24'].map((hour) => (
          <Typography key={hour} variant="body2" color="textSecondary">
            {hour}
          </Typography>
        ))}
      </Stack>
      {daysOf(stretches.data ?? [], duty.zone).map((day) => (
        <Stack key={day.date} direction="row" sx={{ alignItems: 'center', height: 20 }}>
          <Typography variant="body2" sx={{ width: 110 }}>
            {day.title}
          </Typography>
          <Box sx={{ position: 'relative', flex: 1, height: 15 }}>
            {day.parts.map((part) => (
              <Tooltip key={part.from} title={`${part.title}: ${part.who.join(', ') || 'nobody'}`}>
                <Box
                  sx={{
                    position: 'absolute',
                    left: `${part.left}%`,
                    width: `calc(${part.width}% - 1px)`,
                    height: '100%',
                    background: colorOf(part.who[0] ?? '', people),
                  }}
                />
              </Tooltip>
            ))}
          </Box>
        </Stack>
      ))}
    </Paper>
  );
}
