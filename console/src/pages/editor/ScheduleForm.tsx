import { Box, Chip, Stack, Typography } from '@mui/material';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { api, body, type Schemas } from '../../api/client';
import { YearGrid } from '../../parts/YearGrid';
import { mono } from '../../theme';
import { keysOf, shapeAt, valuesOf, type Names } from './completion';
import type { Act, Editing } from './editing';
import { Field } from './Field';
import type { Plain } from './yamlText';

const DAYS: [string, string][] = [
  ['Every business day', 'business days'],
  ['Weekdays', 'weekdays'],
  ['Every day', 'every day'],
  ['Every Monday', 'monday'],
  ['First business day of the month', '1st business day of month'],
  ['Last business day of the month', 'last business day of month'],
];
const TIMES = ['01:00', '04:00', '06:00', '12:00', '18:00', '21:30', '23:00'];

/** When a stream starts: chosen by clicking, with the dates that follow from it beside. */
export function ScheduleForm({
  state,
  act,
  schema,
  names,
  zone,
  sound,
}: {
  state: Editing;
  act: (what: Act) => void;
  schema: unknown;
  names: Names;
  zone: string;
  sound: boolean;
}) {
  const whole = state.stream.value;
  const schedule = whole['schedule'];
  const several = Array.isArray(schedule) && schedule.length > 1;
  const entry = ((Array.isArray(schedule) ? schedule[0] : schedule) ?? {}) as Record<string, Plain>;
  const at = Array.isArray(schedule) ? ['schedule', 0] : ['schedule'];
  const set = (key: string, value: Plain | undefined) => {
    if (schedule === undefined && value !== undefined) {
      const begun = { days: 'business days', at: '21:30', zone, [key]: value };
      act({ do: 'set', path: ['schedule'], value: begun, at: 0 });
    } else {
      act({ do: 'set', path: [...at, key], value, at: 0 });
    }
  };
  if (several) {
    return (
      <Typography>
        This stream has {schedule.length} entries in its schedule: change them in the text.
      </Typography>
    );
  }
  const shapes = keysOf(shapeAt(schema, 'stream', ['schedule']));
  const rest = Object.keys(entry).filter((key) => !['days', 'at', 'zone'].includes(key));
  return (
    <Stack sx={{ gap: 1.4 }}>
      <Stack direction="row" sx={{ flexWrap: 'wrap', gap: 0.7 }}>
        {DAYS.map(([name, rule]) => (
          <Chip
            key={rule}
            label={name}
            color={entry['days'] === rule ? 'primary' : 'default'}
            onClick={() => set('days', rule)}
          />
        ))}
      </Stack>
      <Field
        name="days"
        shape={shapes['days']}
        value={entry['days']}
        onValue={(to) => set('days', to)}
      />
      <Stack direction="row" sx={{ flexWrap: 'wrap', gap: 0.7 }}>
        {TIMES.map((time) => (
          <Chip
            key={time}
            label={time}
            color={entry['at'] === time ? 'primary' : 'default'}
            onClick={() => set('at', time)}
          />
        ))}
      </Stack>
      <Stack direction="row" sx={{ gap: 1 }}>
        <Field name="at" shape={shapes['at']} value={entry['at']} onValue={(to) => set('at', to)} />
        <Field
          name="zone"
          shape={shapes['zone']}
          value={entry['zone']}
          onValue={(to) => set('zone', to)}
          suggestions={valuesOf('zone', [], names)}
        />
      </Stack>
      {rest.map((key) => (
        <Field
          key={key}
          name={key}
          shape={shapes[key]}
          value={entry[key]}
          onValue={(to) => set(key, to)}
        />
      ))}
      {schedule !== undefined && (
        <Coming text={state.past.now} stream={state.stream.path} sound={sound} />
      )}
      {typeof entry['days'] === 'string' && (
        <Year rule={entry['days']} calendar={String(whole['calendar'] ?? '')} />
      )}
    </Stack>
  );
}

function Coming({ text, stream, sound }: { text: string; stream: string; sound: boolean }) {
  const next = useQuery({
    queryKey: ['editor', 'next', text],
    queryFn: () =>
      body(
        api.POST('/api/v1/streams/next', {
          body: { files: [{ name: 'draft.yaml', text }], stream, count: 6 },
        }),
      ),
    enabled: sound,
    placeholderData: keepPreviousData,
    retry: false,
  });
  return (
    <Box>
      <Typography variant="h3">Its next starts</Typography>
      {!sound && (
        <Typography color="textSecondary">They are shown once the definition is sound.</Typography>
      )}
      {(next.data ?? []).map((one: Schemas['StartView']) => (
        <Typography key={`${one.date} ${one.number}`} variant="body2">
          <Box component="span" sx={{ fontFamily: mono }}>
            {one.date} {one.at && clockIn(one.at, one.zone)}
          </Box>{' '}
          {one.reason}
        </Typography>
      ))}
      {sound && next.data?.length === 0 && (
        <Typography variant="body2">None in the next two years.</Typography>
      )}
    </Box>
  );
}

function clockIn(at: string, zone: string): string {
  return new Date(at).toLocaleTimeString('en-GB', {
    timeZone: zone,
    hour: '2-digit',
    minute: '2-digit',
  });
}

function Year({ rule, calendar }: { rule: string; calendar: string }) {
  const year = new Date().getFullYear();
  const days = useQuery({
    queryKey: ['calendars', 'rule', rule, calendar, year],
    queryFn: () =>
      body(
        api.GET('/api/v1/days', {
          params: {
            query: { rule, calendar, from: `${year}-01-01`, to: `${year + 1}-12-31`, all: true },
          },
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
  });
  if (days.error) {
    return <Typography color="error">{days.error.message}</Typography>;
  }
  const from = new Date().toISOString().slice(0, 8);
  return (
    <YearGrid
      days={(days.data?.days ?? [])
        .filter((one) => one.date >= `${from}01`)
        .slice(0, 366)
        .map((one) => ({
          date: one.date,
          on: one.picked,
          name: one.holiday,
          reason: one.reason,
          guess: one.guess,
        }))}
      on="picked"
      off="not picked"
      strong
    />
  );
}
