import { Box, Button, Chip, MenuItem, Paper, Stack, TextField, Typography } from '@mui/material';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { useSearchParams } from 'react-router';
import { api, body, type Schemas } from '../../api/client';
import { YearGrid } from '../../parts/YearGrid';
import { mono } from '../../theme';
import { columnOf } from './column';

type Reason = Schemas['RuleReason'];

const first = 'last business day of month';
const examples = [
  first,
  'business days except 1st business day of month',
  '15th day of month moved to next business day within month',
  'every 2 weeks on friday from 2026-11-06',
  '3 business days before last day of quarter',
  '2 days before easter',
  '1 november to 31 march and monday, thursday',
];

/** A day rule and its year, drawn anew at each keystroke, with the reason on each day. */
export function RulesPage() {
  const [search, setSearch] = useSearchParams();
  const [rule, setRule] = useState(search.get('rule') ?? first);
  const [calendar, setCalendar] = useState(search.get('calendar') ?? '');
  const [year, setYear] = useState(() => new Date().getFullYear());
  const [day, setDay] = useState('');
  const typed = useDeferredValue(rule);
  const calendars = useQuery({
    queryKey: ['calendars'],
    queryFn: () => body(api.GET('/api/v1/calendars')),
  });
  const days = useQuery({
    queryKey: ['calendars', 'rule', typed, calendar, year],
    queryFn: () =>
      body(
        api.GET('/api/v1/days', {
          params: {
            query: {
              rule: typed,
              calendar,
              from: `${year}-01-01`,
              to: `${year}-12-31`,
              all: true,
            },
          },
        }),
      ),
    enabled: typed.trim() !== '',
    placeholderData: keepPreviousData,
    retry: false,
  });
  const shown = useLast(days.data);
  const problem =
    typed.trim() === '' ? 'a rule says which days: try one of these' : days.error?.message;
  const column = days.error ? columnOf(days.error.message) : 0;
  const word = /^\S*/.exec(typed.slice(Math.max(0, column - 1)))?.[0] ?? '';
  const business = (calendars.data ?? []).filter((one) => one.kind === 'business');
  return (
    <Stack sx={{ gap: 1.5 }}>
      <Box>
        <Typography variant="h1">Day rules</Typography>
        <Typography color="textSecondary">
          Say which days; the year below follows what you type.
        </Typography>
      </Box>
      <Stack direction="row" sx={{ gap: 1.5, alignItems: 'flex-start' }}>
        <TextField
          fullWidth
          autoFocus
          label="Day rule"
          value={rule}
          error={Boolean(problem)}
          onChange={(e) => {
            setRule(e.target.value);
            setSearch({ rule: e.target.value, calendar }, { replace: true });
          }}
          slotProps={{ htmlInput: { 'aria-describedby': 'rule-says', spellCheck: false } }}
          sx={{ '& input': { fontFamily: mono } }}
        />
        <TextField
          select
          label="Its calendar"
          value={calendar}
          onChange={(e) => setCalendar(e.target.value)}
          sx={{ minWidth: 220 }}
          slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
        >
          <MenuItem value="">Monday to Friday</MenuItem>
          {business
            .filter((one) => one.name !== 'monday-to-friday')
            .map((one) => (
              <MenuItem key={one.name} value={one.name}>
                {one.title}
              </MenuItem>
            ))}
        </TextField>
        <Button
          variant="outlined"
          onClick={() => setYear(year - 1)}
          sx={{ height: 54, whiteSpace: 'nowrap', flex: 'none' }}
        >
          ‹ {year - 1}
        </Button>
        <Button
          variant="outlined"
          onClick={() => setYear(year + 1)}
          sx={{ height: 54, whiteSpace: 'nowrap', flex: 'none' }}
        >
          {year + 1} ›
        </Button>
      </Stack>
      <Box id="rule-says" role="status" sx={{ minHeight: 26 }}>
        {problem ? (
          <Typography color="error" sx={{ whiteSpace: 'pre-wrap' }}>
            {column > 0 && (
              <Box component="span" sx={{ fontFamily: mono, mr: 1 }}>
                {typed.slice(0, column - 1)}
                <b style={{ textDecoration: 'underline wavy' }}>{word || '␣'}</b>
                {typed.slice(column - 1 + word.length)}
              </Box>
            )}
            {problem}
          </Typography>
        ) : (
          days.data && (
            <Typography>
              <b>
                {days.data.count} {days.data.count === 1 ? 'day' : 'days'} in {year}
              </b>
              <Box component="span" sx={{ color: 'text.secondary' }}>
                {` · ${days.data.rule}`}
                {days.data.knownTo && ` · known to ${days.data.knownTo}; later days are a guess`}
              </Box>
            </Typography>
          )
        )}
      </Box>
      <Stack direction="row" sx={{ gap: 0.8, flexWrap: 'wrap' }}>
        {examples.map((example) => (
          <Chip key={example} label={example} size="small" onClick={() => setRule(example)} />
        ))}
      </Stack>
      {shown && (
        <Box sx={{ opacity: problem ? 0.45 : 1 }}>
          <YearGrid
            days={shown.days.map((one) => ({ ...one, on: one.picked, name: one.holiday }))}
            on="picked"
            off="not picked"
            strong
            onDay={setDay}
          />
        </Box>
      )}
      {day && !problem && <Explained rule={typed} calendar={calendar} date={day} />}
    </Stack>
  );
}

/** The last value that there was, while there is none. */
function useLast<T>(value: T | undefined): T | undefined {
  const [last, setLast] = useState(value);
  if (value !== undefined && value !== last) {
    setLast(value);
  }
  return value ?? last;
}

function Explained({ rule, calendar, date }: { rule: string; calendar: string; date: string }) {
  const explained = useQuery({
    queryKey: ['calendars', 'explain', rule, calendar, date],
    queryFn: () =>
      body(api.GET('/api/v1/days/explain', { params: { query: { rule, calendar, date } } })),
    placeholderData: keepPreviousData,
    retry: false,
  });
  if (!explained.data) {
    return null;
  }
  const weekday = new Date(`${explained.data.date}T00:00:00Z`).toLocaleDateString('en', {
    weekday: 'long',
    timeZone: 'UTC',
  });
  return (
    <Paper
      aria-live="polite"
      sx={{
        px: 2,
        py: 1,
        position: 'sticky',
        bottom: 12,
        boxShadow: '0 4px 18px rgba(0,0,0,0.22)',
      }}
    >
      <Typography variant="h3" component="h2">
        {explained.data.date}, {weekday}: {explained.data.picked ? 'picked' : 'not picked'}
        {explained.data.guess && ' (a guess)'}
      </Typography>
      <Tree reason={explained.data.reason} />
    </Paper>
  );
}

function Tree({ reason }: { reason: Reason }) {
  return (
    <Box>
      <Typography variant="body2">
        <b>{reason.picked ? '✓' : '✗'}</b>{' '}
        <Box component="span" sx={{ fontFamily: mono }}>
          {reason.rule}
        </Box>{' '}
        — {reason.text}
      </Typography>
      {reason.below.length > 0 && (
        <Box sx={{ pl: 2.2, borderLeft: '2px solid', borderColor: 'divider', ml: 0.6 }}>
          {reason.below.map((below, index) => (
            <Tree key={index} reason={below} />
          ))}
        </Box>
      )}
    </Box>
  );
}
