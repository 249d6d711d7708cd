import { Autocomplete, Chip, MenuItem, Stack, TextField, Typography } from '@mui/material';
import { useState } from 'react';
import { isOfTemplate, templateSays, type Act, type Editing } from './editing';
import { keysOf, shapeAt, valuesOf, type Names, type Shape } from './completion';
import { Field } from './Field';
import { KINDS, saidOf, type DrawnJob } from './model';
import type { Plain } from './yamlText';

/** Keys that are shown also where they say nothing. */
const USUAL = ['host', 'usually', 'stop-after'];

/** What a job takes from its stream where it says nothing. */
const INHERITED = ['priority', 'tags', 'when-it-fails', 'calendar', 'alerts'];

interface FormProps {
  state: Editing;
  act: (what: Act) => void;
  schema: unknown;
  names: Names;
}

/** Every key of a job, with its help. */
export function JobForm({ state, act, schema, names, job }: FormProps & { job: DrawnJob }) {
  const stream = state.stream.value;
  const jobs = (stream['jobs'] ?? {}) as Record<string, Record<string, unknown> | null>;
  const value = jobs[job.name] ?? {};
  const filled = state.filled ? saidOf(state.filled, job.name) : {};
  const ofTemplate = isOfTemplate(state, job.name);
  const says = (key: string) => templateSays(state, ['jobs', job.name, key]);
  const shapes = keysOf(shapeAt(schema, 'stream', ['jobs', job.name]));
  const set = (key: string) => (to: Plain | undefined) =>
    act({ do: 'setJob', job: job.name, key, value: to, at: Date.now() });
  const own = ['title', job.kind, 'waits-for'];
  const shown = Object.keys(shapes).filter(
    (key) => !own.includes(key) && (key in value || key in filled || USUAL.includes(key)),
  );
  const kinds = Object.keys(KINDS);
  const left = Object.keys(shapes).filter(
    (key) => !shown.includes(key) && !own.includes(key) && !kinds.includes(key),
  );
  return (
    <Stack sx={{ gap: 1.6 }}>
      {ofTemplate ? (
        <Typography>
          <b>{job.name}</b> is in the template. What you say here is other in this stream only.
        </Typography>
      ) : (
        <NameField
          key={job.name}
          name={job.name}
          onName={(to) => act({ do: 'rename', from: job.name, to })}
        />
      )}
      <Field
        name="title"
        shape={shapes['title']}
        value={value['title']}
        onValue={set('title')}
        inherited={says('title')}
      />
      <TextField
        select
        size="small"
        label="what it does"
        value={job.kind}
        disabled={ofTemplate}
        helperText={KINDS[job.kind]?.about ?? 'Choose what it does.'}
        onChange={(e) => {
          if (job.kind) {
            set(job.kind)(undefined);
          }
          set(e.target.value)(KINDS[e.target.value]?.begin ?? '');
        }}
      >
        {kinds.map((kind) => (
          <MenuItem key={kind} value={kind}>
            {KINDS[kind]?.name}
          </MenuItem>
        ))}
      </TextField>
      {job.kind && (
        <Field
          key={`${job.name} ${job.kind}`}
          name={job.kind}
          shape={shapes[job.kind]}
          value={value[job.kind]}
          onValue={set(job.kind)}
          inherited={says(job.kind)}
          suggestions={valuesOf(job.kind, ['jobs'], names)}
        />
      )}
      <Waits job={job} state={state} act={act} names={names} shape={shapes['waits-for']} />
      {shown.map((key) => (
        <Field
          key={`${job.name} ${key}`}
          name={key}
          shape={shapes[key]}
          value={value[key]}
          onValue={set(key)}
          suggestions={valuesOf(key, ['jobs'], names)}
          inherited={
            says(key) ||
            (INHERITED.includes(key) && stream[key] !== undefined && !(key in value)
              ? `Its stream says: ${String(stream[key])}.`
              : '')
          }
        />
      ))}
      <AddKey
        keys={left}
        shapes={shapes}
        stream={stream}
        onKey={(key) => set(key)(firstOf(shapes[key]))}
      />
    </Stack>
  );
}

/** Something to begin with, which the form then changes. */
function firstOf(shape: Shape | undefined): Plain {
  if (shape?.enum?.includes(true)) {
    return 'yes';
  }
  const types = [shape?.type ?? []].flat();
  return types.includes('object') ? {} : types.includes('array') ? [] : '';
}

function NameField({ name, onName }: { name: string; onName: (to: string) => void }) {
  const [typed, setTyped] = useState(name);
  const done = () => typed !== name && onName(typed.trim());
  return (
    <TextField
      size="small"
      label="name"
      value={typed}
      helperText="What others wait for; it changes wherever this stream names it."
      onChange={(e) => setTyped(e.target.value)}
      onBlur={done}
      onKeyDown={(e) => e.key === 'Enter' && done()}
      slotProps={{ htmlInput: { spellCheck: false } }}
    />
  );
}

/** What a job waits for: as text, as parts that can be taken away, and more to choose from. */
function Waits({
  job,
  state,
  act,
  names,
  shape,
}: Omit<FormProps, 'schema'> & { job: DrawnJob; shape: Shape | undefined }) {
  const others = state.seen.jobs.map((one) => one.name).filter((name) => name !== job.name);
  const options = [...others, ...names.watches.map((one) => `file ${one}`)];
  return (
    <Stack sx={{ gap: 0.8 }}>
      <Field
        name="waits-for"
        shape={shape}
        value={job.waitsFor || undefined}
        onValue={(to) =>
          act({ do: 'setJob', job: job.name, key: 'waits-for', value: to, at: Date.now() })
        }
        inherited={job.unread ? `It cannot be read: ${job.unread}.` : ''}
      />
      <Stack direction="row" sx={{ gap: 0.6, flexWrap: 'wrap' }}>
        {job.asks.map((ask, nth) => (
          <Chip
            key={`${ask.on} ${ask.words} ${nth}`}
            size="small"
            label={`${ask.not ? 'not ' : ''}${ask.on} ${ask.words}`}
            onDelete={() => act({ do: 'cut', to: job.name, nth })}
            sx={{ maxWidth: '100%' }}
          />
        ))}
      </Stack>
      <Autocomplete
        size="small"
        options={options}
        value={null}
        onChange={(_, from) => from && act({ do: 'join', from, to: job.name })}
        renderInput={(params) => <TextField {...params} label="wait for one more" />}
      />
    </Stack>
  );
}

/** A list of all keys that are not there yet, each with what it means. */
export function AddKey({
  keys,
  shapes,
  stream,
  onKey,
}: {
  keys: string[];
  shapes: Record<string, Shape>;
  stream?: Record<string, unknown>;
  onKey: (key: string) => void;
}) {
  return (
    <Autocomplete
      size="small"
      options={keys}
      value={null}
      onChange={(_, key) => key && onKey(key)}
      renderOption={({ key, ...rest }, name) => (
        <li key={key} {...rest}>
          <span>
            <b>{name}</b>
            <Typography component="span" variant="body2" color="textSecondary">
              {' '}
              {shapes[name]?.description}
              {stream && INHERITED.includes(name) && stream[name] !== undefined
                ? ` Its stream says: ${String(stream[name])}.`
                : ''}
            </Typography>
          </span>
        </li>
      )}
      renderInput={(params) => <TextField {...params} label="one more key" />}
    />
  );
}

/** Every key of the stream itself, with its help. */
export function StreamForm({ state, act, schema, names }: FormProps) {
  const { value } = state.stream;
  const shapes = keysOf(shapeAt(schema, 'stream', []));
  const hidden = ['stream', 'jobs', 'schedule', 'places'];
  const usual = ['title', 'about', 'department', 'owner', 'calendar'];
  const shown = Object.keys(shapes).filter(
    (key) =>
      !hidden.includes(key) &&
      (key in value || key in (state.filled?.value ?? {}) || usual.includes(key)),
  );
  const left = Object.keys(shapes).filter((key) => !shown.includes(key) && !hidden.includes(key));
  const set = (key: string) => (to: Plain | undefined) =>
    act({ do: 'set', path: [key], value: to, at: Date.now() });
  return (
    <Stack sx={{ gap: 1.6 }}>
      <Field
        name="stream"
        label="full name"
        shape={shapes['stream']}
        value={value['stream']}
        onValue={set('stream')}
      />
      {shown.map((key) => (
        <Field
          key={key}
          name={key}
          shape={shapes[key]}
          value={value[key]}
          onValue={set(key)}
          suggestions={valuesOf(key, [], names)}
          inherited={templateSays(state, [key])}
        />
      ))}
      <AddKey keys={left} shapes={shapes} onKey={(key) => set(key)(firstOf(shapes[key]))} />
    </Stack>
  );
}
