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
import { useNow } from '../../api/live';
import { clock } from '../../parts/time';
import { isCalendar } from '../calendars/calendarText';
import { AddMenu, FindBox } from './AddMenu';
import { ArrowForm } from './ArrowForm';
import { Canvas } from './Canvas';
import { PublishDialog, ShareDialog, TryDialog } from './dialogs';
import { begunWith, reduce, type Act } from './editing';
import { JobForm, StreamForm } from './JobForm';
import { ScheduleForm } from './ScheduleForm';
import { TextView } from './TextView';
import { useDraft, type Kept } from './useDraft';
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
  const names = useNames(state.stream.jobs.map((one) => one.name));
  const schema = useQuery({
    queryKey: ['schema'],
    queryFn: () => body(api.GET('/api/v1/definitions/schema')),
    staleTime: Infinity,
  });
  const text = state.past.now;
  const check = useCheck(text);
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
      ? state.stream.jobs.find((one) => one.name === state.chosen[0])
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
          disabled={!mine || !sound || state.stream.jobs.length === 0}
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
          This stream comes from the template {state.stream.value['from-template']}: the picture
          shows what is other here, and not what the template says.
        </Typography>
      )}
      <Stack direction="row" sx={{ gap: 1.5 }}>
        {views !== 'side' && (
          <Paper sx={{ flex: 1.35, minWidth: 0, overflow: 'hidden' }}>
            {state.stream.jobs.length === 0 && state.beside.length === 0 && (
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

/** What somebody may do with a draft that another holds. */
function Others({ kept, onCopied }: { kept: Kept; onCopied: (copy: number) => void }) {
  const act = async (action: 'take over' | 'copy') => {
    const done = await kept.act({
      action,
      with: [],
      version: kept.draft?.version ?? 0,
      reason: '',
    });
    if (done && action === 'copy') {
      onCopied(done.id);
    }
  };
  return (
    <>
      <Button variant="outlined" onClick={() => act('take over')} disabled={kept.busy}>
        Take it over
      </Button>
      <Button variant="outlined" onClick={() => act('copy')} disabled={kept.busy}>
        Copy it
      </Button>
    </>
  );
}

function Agreeing({ draft, kept, me }: { draft: Schemas['DraftView']; kept: Kept; me: string }) {
  return (
    <Stack direction="row" sx={{ gap: 1.5, alignItems: 'center' }}>
      <Typography>
        {draft.agreed
          ? `${draft.agreedBy} has agreed to it as it is.`
          : `${draft.askedBy} asks that somebody else agrees${draft.askReason ? `: ${draft.askReason}` : '.'}`}
      </Typography>
      {!draft.agreed && draft.changedBy !== me && (
        <Button
          variant="contained"
          size="small"
          onClick={() =>
            kept.act({ action: 'agree', with: [], version: draft.version, reason: '' })
          }
        >
          I agree
        </Button>
      )}
    </Stack>
  );
}

interface Checked {
  /** What was checked; empty where it could not be. */
  text: string;
  problems: Schemas['ProblemView'][];
}

/** What is wrong with a text, as the service says. */
function checked(text: string): Promise<Checked> {
  const files = [{ name: 'draft.yaml', text }];
  return body(api.POST('/api/v1/definitions/check', { body: { files, reason: '' } })).then(
    (result) => ({ text, problems: result.problems }),
    ({ message }: Error) => {
      const place = { severity: 'error', file: 'draft.yaml', line: 1, column: 1 };
      return { text: '', problems: [{ ...place, message }] };
    },
  );
}

/** What is wrong with a text, asked as one types. */
function useCheck(text: string): Checked {
  const [found, setFound] = useState<Checked>({ text: '', problems: [] });
  const wanted = useRef(text);
  const asking = useRef(false);
  const left = useRef(false);
  useEffect(() => {
    wanted.current = text;
    // One question at a time: what was typed while it was asked is asked as soon as it is answered.
    const ask = async () => {
      asking.current = true;
      for (let asked = ''; !left.current && asked !== wanted.current;) {
        asked = wanted.current;
        setFound(await checked(asked));
      }
      asking.current = false;
    };
    if (!asking.current) {
      void ask();
    }
  }, [text]);
  useEffect(() => {
    left.current = false;
    return () => {
      left.current = true;
    };
  }, []);
  return found;
}

const UNSAVED = 'purser-unsaved ';

/** What was not saved when somebody left the page for another one of the console. */
function unsaved(place: string): string {
  return sessionStorage.getItem(UNSAVED + place) ?? '';
}

function keepUnsaved(place: string, text: string) {
  if (text === '') {
    sessionStorage.removeItem(UNSAVED + place);
    return;
  }
  try {
    sessionStorage.setItem(UNSAVED + place, text);
  } catch {
    // there is no room for it: the browser asks before the page is left
  }
}

/** The browser asks before a page with changes that are not saved is left. */
function useLeaving(dirty: boolean) {
  useEffect(() => {
    const ask = (e: BeforeUnloadEvent) => dirty && e.preventDefault();
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [dirty]);
}

function ProblemList({
  broken,
  problems,
  checking,
}: {
  broken: string;
  problems: Schemas['ProblemView'][];
  checking: boolean;
}) {
  const shown = problems.slice(0, 4);
  return (
    <Box
      role="status"
      aria-label="What is wrong"
      sx={{ minHeight: 44, opacity: checking ? 0.7 : 1 }}
    >
      {broken && problems.length === 0 && <Typography color="error">{broken}</Typography>}
      {shown.map((one) => (
        <Typography
          key={`${one.line} ${one.column} ${one.message}`}
          variant="body2"
          color={one.severity === 'error' ? 'error' : 'textPrimary'}
        >
          <b>{one.severity}</b> line {one.line}, column {one.column}: {one.message}
        </Typography>
      ))}
      {problems.length > shown.length && (
        <Typography variant="body2">
          and {problems.length - shown.length} more, in the text
        </Typography>
      )}
      {!broken && problems.length === 0 && (
        <Typography variant="body2" color="textSecondary">
          Nothing is wrong with it.
        </Typography>
      )}
    </Box>
  );
}

/** What the keyboard does in the picture. */
function Keys() {
  const all: [string, string][] = [
    ['Arrow keys', 'go from job to job'],
    ['Enter', 'opens the form of the one you are on; Escape leads back'],
    ['N', 'adds a job; A adds one that waits for the one you are on'],
    ['C', 'draws an arrow: go to what is to wait, then Enter'],
    ['Space', 'chooses it besides those that are chosen'],
    ['Alt and arrow keys', 'move what is chosen'],
    ['Delete', 'takes away what is chosen'],
    ['Ctrl Z, Ctrl Y', 'undo and redo; Ctrl C, Ctrl V, Ctrl D copy'],
    ['F, +, −', 'all of it, closer, further'],
    ['Ctrl S', 'saves the draft'],
  ];
  return (
    <Stack sx={{ gap: 0.6 }}>
      <Typography>
        Choose a job or an arrow to change it here. Draw from the circle of one job to another that
        is to wait for it; Shift and drag chooses several.
      </Typography>
      <Typography variant="h3" sx={{ mt: 1 }}>
        By keyboard, in the picture
      </Typography>
      {all.map(([keys, what]) => (
        <Typography key={keys} variant="body2">
          <b>{keys}</b> {what}
        </Typography>
      ))}
    </Stack>
  );
}
