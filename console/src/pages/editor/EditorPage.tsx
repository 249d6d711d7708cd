import {
  Box,
  Button,
  Paper,
  Stack,
  Tab,
  Tabs,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useCallback, useEffect, useReducer, useRef, useState } from 'react';
import { Navigate, useNavigate, useSearchParams } from 'react-router';
import { api, body, type Schemas } from '../../api/client';
import { Waiting } from '../../parts/Notice';
import { TextLink } from '../../parts/TextLink';
import { useNow } from '../../api/live';
import { clock } from '../../parts/time';
import { isCalendar } from '../calendars/calendarText';
import { definitionAddress } from '../definitions/address';
import { AddMenu, FindBox } from './AddMenu';
import { ArrowForm } from './ArrowForm';
import { Canvas } from './Canvas';
import { PublishDialog, ShareDialog, TryDialog } from './dialogs';
import { begunWith, reduce, type Act } from './editing';
import { Agreeing, Others } from './Holding';
import { JobForm, StreamForm } from './JobForm';
import { Keys } from './Keys';
import { ProblemList } from './ProblemList';
import { ScheduleForm } from './ScheduleForm';
import { TextView } from './TextView';
import { useCheck, useFilled } from './useAsked';
import { useDraft, type Kept } from './useDraft';
import { keepUnsaved, unsaved, useLeaving } from './unsaved';
import { useNames } from './useNames';
import { whereIs } from './yamlText';

/** A revision that is later than all there are. */
const LATEST = 9_000_000_000_000_000;

const FIRST = `stream: new/stream
title: A new stream
jobs: {}
`;

/** A definition drawn, written and filled in: of a draft, of a stream that is live, or new. */
export function EditorPage({ mayPublish }: { mayPublish: boolean }) {
  const [search] = useSearchParams();
  const id = Number(search.get('draft') ?? 0) || 0;
  const stream = search.get('stream') ?? '';
  const kept = useDraft(id);
  const live = useQuery({
    queryKey: ['definitions', 'one', 'stream', stream],
    queryFn: () =>
      body(
        api.GET('/api/v1/definitions/{kind}/version', {
          params: { path: { kind: 'stream' }, query: { name: stream, revision: LATEST } },
        }),
      ),
    enabled: stream !== '' && id === 0,
    refetchOnWindowFocus: false,
  });
  if (id > 0 && !kept.draft) {
    return <Waiting error={kept.error} what="The draft" />;
  }
  if (stream && id === 0 && !live.data) {
    return <Waiting error={live.error} what="The stream" />;
  }
  const text = kept.draft?.files[0]?.text ?? live.data?.text ?? FIRST;
  if (id > 0 && isCalendar(text)) {
    return <Navigate to={`/calendar-editor?draft=${id}`} replace />;
  }
  const key = id > 0 ? `draft ${id}` : `stream ${stream}`;
  return (
    <Editor
      key={key}
      place={key}
      first={text}
      kept={kept}
      fresh={!stream && id === 0}
      mayPublish={mayPublish}
    />
  );
}

type Views = 'both' | 'picture' | 'side';
type Side = 'text' | 'chosen' | 'stream' | 'schedule';

function Editor({
  place: keptAs,
  first,
  kept,
  fresh,
  mayPublish,
}: {
  place: string;
  first: string;
  kept: Kept;
  fresh: boolean;
  mayPublish: boolean;
}) {
  const go = useNavigate();
  const [state, act] = useReducer(reduce, first, (text) => begunWith(text, unsaved(keptAs)));
  const [views, setViews] = useState<Views>('both');
  const [side, setSide] = useState<Side>(fresh ? 'stream' : 'text');
  const [wanted, setWanted] = useState('');
  const [goTo, setGoTo] = useState('');
  const [place, setPlace] = useState(-1);
  const [asking, setAsking] = useState<'publish' | 'try' | 'share' | ''>('');
  const [saved, setSaved] = useState(fresh ? '' : first);
  const me = useQuery({ queryKey: ['me'], queryFn: () => body(api.GET('/api/v1/session')) });
  const names = useNames(state.seen.jobs.map((one) => one.name));
  const schema = useQuery({
    queryKey: ['schema'],
    queryFn: () => body(api.GET('/api/v1/definitions/schema')),
    staleTime: Infinity,
  });
  const text = state.past.now;
  const check = useCheck(text);
  useFilled(text, state.stream.path, act);
  const dirty = text !== saved;
  const now = useNow(60_000);
  const draft = kept.draft;
  const mine = mayPublish && (!draft || draft.holder === me.data?.name);
  useLeaving(dirty);
  useEffect(() => keepUnsaved(keptAs, dirty ? text : ''), [keptAs, dirty, text]);
  const save = async () => {
    const title = state.stream.title || state.stream.path || 'A draft';
    const done = await kept.save(title, text);
    if (done) {
      setSaved(text);
      if (!draft) {
        window.history.replaceState(null, '', `/editor?draft=${done.id}`);
      }
    }
    return done;
  };
  const savedThen = async (what: 'publish' | 'try' | 'share') => {
    if ((draft && !dirty) || (await save())) {
      setAsking(what);
    }
  };
  const form = useRef<HTMLDivElement>(null);
  const open = useCallback(() => {
    setSide('chosen');
    setViews((was) => (was === 'picture' ? 'both' : was));
    window.setTimeout(() => form.current?.querySelector<HTMLInputElement>('input')?.select());
  }, []);
  const toPicture = () => document.querySelector<SVGElement>('[data-shape][tabindex="0"]')?.focus();
  const chosenJob =
    state.chosen.length === 1
      ? state.seen.jobs.find((one) => one.name === state.chosen[0])
      : undefined;
  const acts = useCallback((what: Act) => {
    act(what);
    if (what.do === 'chooseArrow' || what.do === 'join') {
      setSide('chosen');
    }
  }, []);
  const show = (to: Side) => {
    setSide(to);
    if (to === 'text' && chosenJob) {
      setPlace(whereIs(text, ['jobs', chosenJob.name], state.stream.index));
    }
  };
  const errors = check.problems.filter((one) => one.severity === 'error').length;
  const sound = state.broken === '' && check.text === text && errors === 0;
  const height = Math.max(360, window.innerHeight - 306);
  return (
    <Stack
      sx={{ gap: 1 }}
      onKeyDown={(e) => {
        if ((e.ctrlKey || e.metaKey) && e.key === 's') {
          e.preventDefault();
          void save();
        }
      }}
    >
      <Stack direction="row" sx={{ gap: 1, alignItems: 'center' }}>
        <Box sx={{ flex: 1, minWidth: 0 }}>
          <Typography variant="h1" noWrap>
            {state.stream.title || 'Editor'}
          </Typography>
          <Typography variant="body2" color="textSecondary" role="status" noWrap>
            {standing(draft, dirty, mine, now)}
          </Typography>
        </Box>
        {mine || !draft ? (
          <Button
            variant="outlined"
            onClick={save}
            disabled={!mine || kept.busy || (!dirty && !!draft)}
          >
            Save draft
          </Button>
        ) : (
          <Others kept={kept} onCopied={(copy) => void go(`/editor?draft=${copy}`)} />
        )}
        <Button variant="outlined" disabled={!mine || kept.busy} onClick={() => savedThen('share')}>
          Share
        </Button>
        <Button
          variant="outlined"
          disabled={!mine || !sound || state.seen.jobs.length === 0}
          onClick={() => savedThen('try')}
        >
          Try once
        </Button>
        <Button variant="contained" disabled={!mine || !sound} onClick={() => savedThen('publish')}>
          Publish…
        </Button>
      </Stack>
      {kept.problem && !asking && (
        <Typography role="alert" color="error">
          {kept.problem}
        </Typography>
      )}
      {draft?.asked && <Agreeing draft={draft} kept={kept} me={me.data?.name ?? ''} />}
      <Stack direction="row" sx={{ gap: 1, alignItems: 'center', flexWrap: 'wrap' }}>
        <AddMenu state={state} act={acts} names={names} onAdded={open} />
        <FindBox
          state={state}
          act={acts}
          names={names}
          onWanted={setWanted}
          onGo={(one) => setGoTo(`${one} ${goTo.length + Math.floor(performance.now())}`)}
        />
        <Button
          size="small"
          disabled={state.past.before.length === 0}
          onClick={() => act({ do: 'undo' })}
        >
          Undo
        </Button>
        <Button
          size="small"
          disabled={state.past.after.length === 0}
          onClick={() => act({ do: 'redo' })}
        >
          Redo
        </Button>
        <Button size="small" onClick={() => act({ do: 'arrange' })}>
          Arrange
        </Button>
        <Button
          size="small"
          disabled={state.chosen.length === 0}
          onClick={() => act({ do: 'duplicate' })}
        >
          Copy
        </Button>
        <Button
          size="small"
          disabled={state.chosen.length === 0 && !state.arrow}
          onClick={() => act({ do: 'delete' })}
        >
          Delete
        </Button>
        <Typography variant="body2" role="status" sx={{ flex: 1, minWidth: 120 }}>
          {state.says}
        </Typography>
        <ToggleButtonGroup
          size="small"
          exclusive
          value={views}
          aria-label="What is shown"
          onChange={(_, to: Views | null) => to && setViews(to)}
        >
          <ToggleButton value="picture">Picture</ToggleButton>
          <ToggleButton value="both">Both</ToggleButton>
          <ToggleButton value="side">Text and forms</ToggleButton>
        </ToggleButtonGroup>
      </Stack>
      {typeof state.stream.value['from-template'] === 'string' && (
        <Typography variant="body2">
          This stream comes from the template{' '}
          <TextLink to={definitionAddress('template', state.stream.value['from-template'])}>
            {state.stream.value['from-template']}
          </TextLink>
          : what is drawn faintly is as the template says; what you change of it is other here only.
        </Typography>
      )}
      <Stack direction="row" sx={{ gap: 1.5 }}>
        {views !== 'side' && (
          <Paper sx={{ flex: 1.35, minWidth: 0, overflow: 'hidden' }}>
            {state.seen.jobs.length === 0 && state.beside.length === 0 && (
              <Typography sx={{ p: 2, position: 'absolute' }} color="textSecondary">
                Nothing is in it yet: Add puts the first job here (or the key N, in the picture).
              </Typography>
            )}
            <Canvas
              state={state}
              act={acts}
              onOpen={open}
              wanted={wanted}
              goTo={goTo}
              height={height}
            />
          </Paper>
        )}
        {views !== 'picture' && (
          <Paper sx={{ flex: 1, minWidth: 0, display: 'flex', flexDirection: 'column' }}>
            <Tabs value={side} onChange={(_, to: Side) => show(to)} variant="fullWidth">
              <Tab value="text" label="Text" />
              <Tab value="chosen" label={chosenJob ? 'Job' : state.arrow ? 'Arrow' : 'Chosen'} />
              <Tab value="stream" label="Stream" />
              <Tab value="schedule" label="Schedule" />
            </Tabs>
            {side === 'text' ? (
              <TextView
                text={text}
                onText={(to) => act({ do: 'type', text: to, at: Date.now() })}
                onUndo={() => act({ do: 'undo' })}
                onRedo={() => act({ do: 'redo' })}
                problems={check.problems}
                schema={schema.data}
                names={names}
                goTo={place}
                height={height - 48}
              />
            ) : (
              <Box
                ref={form}
                onKeyDown={(e) => e.key === 'Escape' && !e.defaultPrevented && toPicture()}
                sx={{ p: 1.5, height: height - 48, overflow: 'auto' }}
              >
                {side === 'chosen' && chosenJob && (
                  <JobForm
                    state={state}
                    act={acts}
                    schema={schema.data}
                    names={names}
                    job={chosenJob}
                  />
                )}
                {side === 'chosen' && state.arrow && <ArrowForm state={state} act={acts} />}
                {side === 'chosen' && !chosenJob && !state.arrow && <Keys />}
                {side === 'stream' && (
                  <StreamForm state={state} act={acts} schema={schema.data} names={names} />
                )}
                {side === 'schedule' && (
                  <ScheduleForm
                    state={state}
                    act={acts}
                    schema={schema.data}
                    names={names}
                    zone={me.data?.zone ?? 'UTC'}
                    sound={sound}
                  />
                )}
              </Box>
            )}
          </Paper>
        )}
      </Stack>
      <ProblemList
        broken={state.broken ? `line ${state.brokenLine}: ${state.broken}` : ''}
        problems={check.problems}
        checking={check.text !== text}
      />
      {asking === 'publish' && draft && (
        <PublishDialog draft={draft} onClose={() => setAsking('')} onAct={kept.act} />
      )}
      {asking === 'try' && draft && (
        <TryDialog
          draft={draft}
          stream={state.stream.path}
          hosts={names.hosts}
          onClose={() => setAsking('')}
        />
      )}
      {asking === 'share' && draft && (
        <ShareDialog
          draft={draft}
          onClose={() => setAsking('')}
          onAct={kept.act}
          problem={kept.problem}
        />
      )}
    </Stack>
  );
}

function standing(
  draft: Schemas['DraftView'] | undefined,
  dirty: boolean,
  mine: boolean,
  now: number,
): string {
  if (!draft) {
    return dirty ? 'Not saved yet' : 'As it is live; changes become a draft';
  }
  if (!mine) {
    return `Draft ${draft.id} is with ${draft.holder}, who saved it at ${clock(draft.changed, now)}`;
  }
  const shared = draft.shared.length > 0 ? `, shared with ${draft.shared.join(', ')}` : '';
  return `Draft ${draft.id}${shared}${dirty ? ', with changes that are not saved' : ', saved'}`;
}
