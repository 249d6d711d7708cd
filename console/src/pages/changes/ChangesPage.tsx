import { Box, Button, Paper, Stack, TextField, Typography } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useState, type ChangeEvent, useRef } from 'react';
import { useDoing } from '../../parts/doing';
import { api, body, type Schemas } from '../../api/client';
import { useNow } from '../../api/live';
import { mono } from '../../theme';
import { StreamChanges } from './StreamChanges';
import { besides } from './besides';

type Preview = Schemas['PreviewView'];
type Definition = Schemas['DefinitionChange'];

interface File {
  name: string;
  text: string;
}

/** A change set: what publishing it would do, side by side, before it is published. */
export function ChangesPage({ mayPublish }: { mayPublish: boolean }) {
  const chooser = useRef<HTMLInputElement>(null);
  const [files, setFiles] = useState<File[]>([{ name: 'pasted.yaml', text: '' }]);
  const [preview, setPreview] = useState<Preview>();
  const [reason, setReason] = useState('');
  const [says, setSays] = useState('');
  const [left, setLeft] = useState('');
  const doing = useDoing();
  const problem = doing.problem || left;
  const queries = useQueryClient();
  const wanted = files.filter((file) => file.text.trim() !== '');
  const attempt = (what: () => Promise<void>) => {
    setLeft('');
    setSays('');
    return doing.act(what);
  };
  const look = () =>
    attempt(async () =>
      setPreview(
        await body(api.POST('/api/v1/definitions/preview', { body: { files: wanted, days: 400 } })),
      ),
    );
  const publish = () =>
    attempt(async () => {
      const result = await body(
        api.POST('/api/v1/definitions', {
          body: { files: wanted, reason },
          params: { header: { 'If-Match': `"${preview?.revision}"` } },
        }),
      );
      setSays(
        `Published as revision ${result.revision}; runs of today and tomorrow: ${result.runsPlanned} planned, ${result.runsChanged} changed, ${result.runsWithdrawn} withdrawn.`,
      );
      setPreview(undefined);
      setReason('');
      await queries.invalidateQueries();
    });
  const edit = (text: string) => {
    setPreview(undefined);
    setFiles([{ name: 'pasted.yaml', text }, ...files.filter((one) => one.name !== 'pasted.yaml')]);
  };
  const take = async (e: ChangeEvent<HTMLInputElement>) => {
    const taken = await Promise.all(
      [...(e.target.files ?? [])].map(async (file) => ({
        name: file.name,
        text: await file.text(),
      })),
    );
    e.target.value = '';
    await attempt(async () => {
      const yaml = taken.filter((file) => /\.ya?ml$/.test(file.name));
      const made = await Promise.all(
        taken.filter((file) => !yaml.includes(file)).map(async (file) => imported(file)),
      );
      const notes = made.flatMap((one) =>
        one.problems.map((problem) => `line ${problem.line}: ${problem.message}`),
      );
      const pasted = files.find((file) => file.name === 'pasted.yaml')?.text ?? '';
      const texts = [pasted, ...made.map((one) => one.yaml)].filter((text) => text.trim() !== '');
      setPreview(undefined);
      setFiles([
        { name: 'pasted.yaml', text: texts.join('---\n') },
        ...files.filter(
          (old) => old.name !== 'pasted.yaml' && !yaml.some((fresh) => fresh.name === old.name),
        ),
        ...yaml,
      ]);
      setLeft(notes.length > 0 ? `Not all could be taken: ${notes.join('; ')}` : '');
    });
  };
  return (
    <Stack sx={{ gap: 2 }}>
      <Box>
        <Typography variant="h1">Changes</Typography>
        <Typography color="textSecondary">
          Put definitions here and see what publishing them would add, drop or move, before it is
          live.
        </Typography>
      </Box>
      <Stack direction="row" sx={{ gap: 2, alignItems: 'flex-start' }}>
        <TextField
          multiline
          minRows={5}
          maxRows={14}
          fullWidth
          label="Definitions (YAML)"
          value={files.find((file) => file.name === 'pasted.yaml')?.text ?? ''}
          onChange={(e) => edit(e.target.value)}
          slotProps={{ htmlInput: { spellCheck: false } }}
          sx={{ '& textarea': { fontFamily: mono, fontSize: '0.86rem' } }}
        />
        <Stack sx={{ gap: 1, minWidth: 230 }}>
          <Button variant="outlined" onClick={() => chooser.current?.click()}>
            Add files (YAML, .ics, crontab)
          </Button>
          <input
            ref={chooser}
            hidden
            multiple
            type="file"
            aria-label="Files to add"
            onChange={take}
          />
          {files
            .filter((file) => file.name !== 'pasted.yaml')
            .map((file) => (
              <Typography key={file.name} variant="body2">
                {file.name}{' '}
                <Button
                  size="small"
                  onClick={() => {
                    setPreview(undefined);
                    setFiles(files.filter((one) => one !== file));
                  }}
                >
                  Leave out
                </Button>
              </Typography>
            ))}
          <Button variant="contained" disabled={wanted.length === 0} onClick={look}>
            What would change?
          </Button>
        </Stack>
      </Stack>
      {problem && (
        <Typography role="alert" color="error">
          {problem}
        </Typography>
      )}
      {says && <Typography role="status">{says}</Typography>}
      {preview && <Shown preview={preview} />}
      {preview?.sound && preview.definitions.length > 0 && mayPublish && (
        <Stack direction="row" sx={{ gap: 2 }}>
          <TextField
            size="small"
            fullWidth
            label="Why (kept in the audit trail)"
            value={reason}
            onChange={(e) => setReason(e.target.value)}
          />
          <Button variant="contained" onClick={publish} sx={{ whiteSpace: 'nowrap' }}>
            Publish {preview.definitions.length === 1 ? 'it' : `all ${preview.definitions.length}`}
          </Button>
        </Stack>
      )}
    </Stack>
  );
}

/** Definitions made from a file of another kind, and what of it could not be taken. */
async function imported(file: File): Promise<Schemas['Imported']> {
  if (file.name.endsWith('.ics')) {
    const name = file.name
      .slice(0, -4)
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-');
    return body(
      api.POST('/api/v1/calendars/import', { body: { name, title: '', text: file.text } }),
    );
  }
  const hosts = await body(api.GET('/api/v1/hosts'));
  const me = await body(api.GET('/api/v1/session'));
  return body(
    api.POST('/api/v1/definitions/from-crontab', {
      body: {
        text: file.text,
        prefix: 'imported',
        host: hosts[0]?.name ?? 'host',
        zone: me.zone,
      },
    }),
  );
}

function Shown({ preview }: { preview: Preview }) {
  const now = useNow(60_000);
  return (
    <Stack sx={{ gap: 1.5 }} aria-live="polite">
      {preview.problems.map((one) => (
        <Typography
          key={`${one.file}:${one.line}:${one.column}:${one.message}`}
          color={one.severity === 'error' ? 'error' : undefined}
        >
          <b>{one.severity}</b> {one.file}, line {one.line}, column {one.column}: {one.message}
        </Typography>
      ))}
      {!preview.sound ? (
        <Typography variant="h2">These files are not sound: they cannot be published.</Typography>
      ) : preview.definitions.length === 0 ? (
        <Typography variant="h2">Nothing would change: all is in force as it is.</Typography>
      ) : (
        <>
          <Totals preview={preview} />
          {preview.touched.map((run) => (
            <Typography key={run.reference} color="warning">
              <b>{run.reference}</b> {run.what}
            </Typography>
          ))}
          {preview.promises.map((promise) => (
            <Typography key={promise}>
              <b>Promise</b> {promise}
            </Typography>
          ))}
          {preview.streams.map((stream) => (
            <StreamChanges key={stream.stream} stream={stream} now={now} />
          ))}
          {preview.definitions.map((definition) => (
            <SideBySide key={`${definition.kind} ${definition.name}`} definition={definition} />
          ))}
        </>
      )}
    </Stack>
  );
}

function Totals({ preview }: { preview: Preview }) {
  const totals: [string, number, 'running' | 'failed' | 'waiting'][] = [
    ['gained', preview.gained, 'running'],
    ['lost', preview.lost, 'failed'],
    ['moved', preview.moved, 'waiting'],
  ];
  return (
    <Stack direction="row" sx={{ gap: 1.5, alignItems: 'center' }}>
      {totals.map(([word, count, state]) => (
        <Box
          key={word}
          sx={(t) => ({
            px: 2,
            py: 0.8,
            borderRadius: 2,
            fontWeight: 700,
            opacity: count === 0 ? 0.55 : 1,
            color: t.states[state].text,
            background: t.states[state].fill,
            border: `1.5px solid ${t.states[state].edge}`,
          })}
        >
          {count} {count === 1 ? 'run' : 'runs'} {word}
        </Box>
      ))}
      <Typography color="textSecondary">
        from {preview.from} to {preview.to}, against revision {preview.revision}
      </Typography>
    </Stack>
  );
}

function SideBySide({ definition }: { definition: Definition }) {
  const lines = besides(definition.before, definition.after);
  return (
    <Paper sx={{ p: 2 }}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        {definition.kind} {definition.name}: {definition.action}
      </Typography>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: '0 12px' }}>
        <Typography variant="h3">in force</Typography>
        <Typography variant="h3">after publishing</Typography>
        {lines.map((line, index) => (
          <Box key={index} sx={{ display: 'contents' }}>
            <CodeLine text={line.before} changed={line.changed} state="failed" />
            <CodeLine text={line.after} changed={line.changed} state="running" />
          </Box>
        ))}
      </Box>
    </Paper>
  );
}

function CodeLine({
  text,
  changed,
  state,
}: {
  text?: string;
  changed: boolean;
  state: 'failed' | 'running';
}) {
  return (
    <Box
      component="pre"
      sx={(t) => ({
        m: 0,
        px: 0.8,
        minHeight: '1.35em',
        fontFamily: mono,
        fontSize: '0.82rem',
        whiteSpace: 'pre-wrap',
        overflowWrap: 'anywhere',
        color: changed && text !== undefined ? t.states[state].text : 'inherit',
        background: changed && text !== undefined ? t.states[state].fill : 'transparent',
        opacity: text === undefined ? 0.3 : 1,
      })}
    >
      {text}
    </Box>
  );
}
