import { Box, Button, Paper, Stack, TextField, Typography } from '@mui/material';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { api, body } from '../../api/client';
import { Waiting } from '../../parts/Notice';
import { YearGrid } from '../../parts/YearGrid';
import { PublishDialog } from '../editor/dialogs';
import { begin, changed, redone, undone } from '../editor/past';
import { keepUnsaved, unsaved, useLeaving } from '../editor/unsaved';
import { useDraft, type Kept } from '../editor/useDraft';
import { CannotEdit } from '../editor/yamlText';
import { mono } from '../../theme';
import { closed, extended, notExtra, opened, readCalendar } from './calendarText';

const LATEST = 9_000_000_000_000_000;

/** A calendar in which days are closed and opened by clicking; saved as a draft. */
export function CalendarEditorPage() {
  const [search] = useSearchParams();
  const id = Number(search.get('draft') ?? 0) || 0;
  const name = search.get('name') ?? '';
  const kind = search.get('kind') === 'business' ? 'business-calendar' : 'holiday-calendar';
  const kept = useDraft(id);
  const live = useQuery({
    queryKey: ['definitions', 'one', kind, name],
    queryFn: () =>
      body(
        api.GET('/api/v1/definitions/{kind}/version', {
          params: { path: { kind }, query: { name, revision: LATEST } },
        }),
      ),
    enabled: name !== '' && id === 0,
    refetchOnWindowFocus: false,
  });
  if (id > 0 && !kept.draft) {
    return <Waiting error={kept.error} what="The draft" />;
  }
  if (name && id === 0 && !live.data) {
    return <Waiting error={live.error} what="The calendar" />;
  }
  const text =
    kept.draft?.files[0]?.text ??
    live.data?.text ??
    'holiday-calendar: new-calendar\ntitle: A new calendar\nholidays: []\n';
  const key = id > 0 ? `calendar draft ${id}` : `${kind} ${name}`;
  return <CalendarEditor key={key} place={key} first={text} kept={kept} />;
}

interface CalendarEditorProps {
  /** Under which name what is not saved is kept, while one is on another page. */
  place: string;
  first: string;
  kept: Kept;
}

function CalendarEditor({ place, first, kept }: CalendarEditorProps) {
  const go = useNavigate();
  const [past, setPast] = useState(() => {
    const left = unsaved(place);
    return left === '' ? begin(first) : changed(begin(first), left, 'drawn', 0);
  });
  const [saved, setSaved] = useState(first);
  const [year, setYear] = useState(() => new Date().getFullYear());
  const [label, setLabel] = useState('');
  const [last, setLast] = useState('');
  const [says, setSays] = useState<string[]>(() =>
    unsaved(place) === '' ? [] : ['what you had not saved is here again; Undo takes it away'],
  );
  const [asking, setAsking] = useState(false);
  const text = past.now;
  const calendar = readCalendar(text);
  const days = useQuery({
    queryKey: ['calendars', 'draft', text, year],
    queryFn: () =>
      body(
        api.POST('/api/v1/calendars/{name}/years/{year}', {
          params: { path: { name: calendar.name, year } },
          body: { files: [{ name: 'draft.yaml', text }], reason: '' },
        }),
      ),
    enabled: calendar.name !== '',
    placeholderData: keepPreviousData,
    retry: false,
  });
  const edit = (make: () => string, after: string[] = []) => {
    try {
      const made = make();
      setPast((was) => changed(was, made, 'drawn', 0));
      setSays(after);
    } catch (e) {
      if (!(e instanceof CannotEdit)) {
        throw e;
      }
      setSays([e.message]);
    }
  };
  const pick = (date: string, upTo: boolean) => {
    const day = days.data?.days.find((one) => one.date === date);
    if (calendar.extra.includes(date)) {
      edit(() => notExtra(text, date));
    } else if (day && !day.open) {
      edit(() => opened(text, date));
    } else {
      edit(() => closed(text, upTo && last ? last : date, date, label));
    }
    setLast(date);
  };
  const save = async () => {
    const done = await kept.save(calendar.title || calendar.name, text);
    if (done) {
      setSaved(text);
    }
    return done;
  };
  const publish = async () => {
    if ((kept.draft && text === saved) || (await save())) {
      setAsking(true);
    }
  };
  const further = () => {
    const more = extended(text, year);
    edit(
      () => more.text,
      more.moved.length > 0
        ? more.moved
        : [`nothing of ${year} is to be copied: rules of each year hold in ${year + 1} too`],
    );
    setYear(year + 1);
  };
  const dirty = text !== saved;
  useLeaving(dirty);
  useEffect(() => keepUnsaved(place, dirty ? text : ''), [place, dirty, text]);
  return (
    <Stack sx={{ gap: 1.5 }}>
      <Stack direction="row" sx={{ gap: 1, alignItems: 'center' }}>
        <Box sx={{ flex: 1 }}>
          <Typography variant="h1">
            {calendar.title}, {year}
          </Typography>
          <Typography color="textSecondary" role="status">
            {kept.draft ? `Draft ${kept.draft.id}` : 'As it is live; changes become a draft'}
            {dirty && ', with changes that are not saved'}
          </Typography>
        </Box>
        <Button variant="outlined" onClick={() => setYear(year - 1)}>
          ‹ {year - 1}
        </Button>
        <Button variant="outlined" onClick={() => setYear(year + 1)}>
          {year + 1} ›
        </Button>
        <Button variant="outlined" disabled={!dirty || kept.busy} onClick={save}>
          Save draft
        </Button>
        <Button
          variant="contained"
          disabled={kept.busy || (!dirty && !kept.draft)}
          onClick={publish}
        >
          Publish…
        </Button>
      </Stack>
      <Paper sx={{ position: 'sticky', top: 100, zIndex: 2, p: 1 }}>
        <Stack direction="row" sx={{ gap: 1.5, alignItems: 'center' }}>
          {calendar.kind === 'holiday' && (
            <TextField
              size="small"
              label="What the days that you close are called"
              value={label}
              onChange={(e) => setLabel(e.target.value)}
              sx={{ width: 330 }}
            />
          )}
          <Button
            size="small"
            disabled={past.before.length === 0}
            onClick={() => setPast((was) => undone(was))}
          >
            Undo
          </Button>
          <Button
            size="small"
            disabled={past.after.length === 0}
            onClick={() => setPast((was) => redone(was))}
          >
            Redo
          </Button>
          <Button size="small" onClick={further}>
            Extend to {year + 1}
          </Button>
          <Typography variant="body2" color="textSecondary">
            {calendar.kind === 'holiday'
              ? 'Click a day to close it, or to open it again; Shift and click closes all up to it.'
              : `Click a closed day to work on it all the same. Its holidays are those of ${calendar.without.join(', ') || 'no calendar'}.`}
          </Typography>
        </Stack>
        {kept.problem && (
          <Typography role="alert" color="error">
            {kept.problem}
          </Typography>
        )}
        {says.length > 0 && (
          <Box role="status">
            {says.map((one) => (
              <Typography key={one} variant="body2">
                {one}
              </Typography>
            ))}
          </Box>
        )}
      </Paper>
      {days.error && <Typography color="error">{days.error.message}</Typography>}
      {days.data && (
        <YearGrid
          days={days.data.days.map((day) => ({ ...day, on: day.open }))}
          on="open"
          off="closed"
          onPick={pick}
        />
      )}
      <Paper sx={{ p: 2 }}>
        <Typography variant="h2">Its text</Typography>
        <Box
          component="pre"
          tabIndex={0}
          aria-label="Its text"
          sx={{ m: 0, fontFamily: mono, fontSize: '0.84rem', maxHeight: 300, overflow: 'auto' }}
        >
          {text}
        </Box>
      </Paper>
      {asking && kept.draft && (
        <PublishDialog
          draft={kept.draft}
          onAct={kept.act}
          onClose={() => {
            setAsking(false);
            void go(`/calendars`);
          }}
        />
      )}
    </Stack>
  );
}
