import { Box, Button, Stack, TextField, Typography } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useState, type ChangeEvent, useRef } from 'react';
import { useLocation } from 'react-router';
import { WithReason } from '../../parts/WithReason';
import { useDoing } from '../../parts/doing';
import { api, body, type Schemas } from '../../api/client';
import { mono } from '../../theme';
import { HoldsFrom } from './HoldsFrom';
import { PreviewShown } from './PreviewShown';
import { holds, published } from './holding';

type Preview = Schemas['PreviewView'];

interface File {
  name: string;
  text: string;
}

/** A change set: what publishing it would do, side by side, before it is published. */
export function ChangesPage({ mayPublish }: { mayPublish: boolean }) {
  const chooser = useRef<HTMLInputElement>(null);
  // Another page may bring a text along, to be changed here.
  const brought = (useLocation().state as { text?: string } | null)?.text ?? '';
  const [files, setFiles] = useState<File[]>([{ name: 'pasted.yaml', text: brought }]);
  const [preview, setPreview] = useState<Preview>();
  const [reason, setReason] = useState('');
  const [from, setFrom] = useState('planned');
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
        await body(
          api.POST('/api/v1/definitions/preview', {
            body: { files: wanted, days: 400, holds: holds(from) },
          }),
        ),
      ),
    );
  const chooseFrom = (one: string) => {
    setFrom(one);
    setPreview(undefined);
  };
  const publish = () =>
    attempt(async () => {
      const result = await body(
        api.POST('/api/v1/definitions', {
          body: { files: wanted, reason, holds: holds(from) },
          params: { header: { 'If-Match': `"${preview?.revision}"` } },
        }),
      );
      setSays(published(result));
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
          <HoldsFrom from={from} onFrom={chooseFrom} />
          <Button
            variant="contained"
            disabled={wanted.length === 0 || from === 'date'}
            onClick={look}
          >
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
      {preview && <PreviewShown preview={preview} />}
      {preview?.sound && preview.definitions.length > 0 && mayPublish && (
        <WithReason reason={reason} onReason={setReason} busy={doing.busy} onAct={publish}>
          Publish {preview.definitions.length === 1 ? 'it' : `all ${preview.definitions.length}`}
        </WithReason>
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
