import { Box, Button, Paper, Stack, TextField, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { api, body, type Schemas } from '../../api/client';
import { Waiting } from '../../parts/Notice';
import { useDoing } from '../../parts/doing';
import { TextLink } from '../../parts/TextLink';
import { mono } from '../../theme';
import { streamAddress } from '../streams/address';
import { definitionAddress } from './address';
import { From } from './From';
import { Rename } from './Rename';
import { Versions } from './Versions';

/** A revision that is later than all there are. */
const LATEST = 9_000_000_000_000_000;

const RENAMABLE = [
  'stream',
  'holiday-calendar',
  'business-calendar',
  'period',
  'host-group',
  'template',
];

/** One definition: its text, where it comes from, where it is used, and all its versions. */
export function DefinitionPage({ mayPublish }: { mayPublish: boolean }) {
  const { kind = '', '*': name = '' } = useParams();
  const one = useQuery({
    queryKey: ['definitions', 'one', kind, name],
    queryFn: () =>
      body(
        api.GET('/api/v1/definitions/{kind}/version', {
          params: { path: { kind }, query: { name, revision: LATEST } },
        }),
      ),
  });
  if (!one.data) {
    return <Waiting error={one.error} what="The definition" />;
  }
  const gone = one.data.text === '';
  return (
    <Stack sx={{ gap: 2 }}>
      <Box>
        <Typography variant="h1" sx={{ overflowWrap: 'anywhere' }}>
          {name}
        </Typography>
        <Typography color="textSecondary">
          {kind.replace(/-/g, ' ')}, revision {one.data.version.revision}
          {gone ? ': withdrawn; an earlier version below can be brought back' : ', in force'}
          {kind === 'stream' && !gone && (
            <>
              {' · '}
              <TextLink to={streamAddress(name)}>its day</TextLink>
            </>
          )}
        </Typography>
      </Box>
      {!gone && <From kind={kind} name={name} mayPublish={mayPublish} />}
      {!gone && <Text version={one.data} mayPublish={mayPublish} />}
      {!gone && <Uses kind={kind} name={name} />}
      {!gone && mayPublish && !one.data.version.madeBy && RENAMABLE.includes(kind) && (
        <Rename kind={kind} name={name} />
      )}
      <Versions key={`${kind} ${name}`} kind={kind} name={name} mayPublish={mayPublish} />
    </Stack>
  );
}

function Text({
  version,
  mayPublish,
}: {
  version: Schemas['VersionTextView'];
  mayPublish: boolean;
}) {
  const { kind, name, madeBy } = version.version;
  const go = useNavigate();
  const doing = useDoing();
  const [to, setTo] = useState('');
  const change = (text: string) => void go('/changes', { state: { text } });
  const copy = () =>
    doing.act(async () => {
      const made = await body(
        api.POST('/api/v1/definitions/copy', { body: { kind, name, job: '', to } }),
      );
      change(made.text);
    });
  return (
    <Paper sx={{ p: 2 }}>
      <Stack direction="row" sx={{ gap: 1.5, alignItems: 'center', mb: 1 }}>
        <Typography variant="h2" sx={{ flex: 1 }}>
          {madeBy ? 'As its table makes it' : 'As it is written'}
        </Typography>
        {mayPublish && !madeBy && (
          <Button
            variant="outlined"
            onClick={() =>
              kind === 'stream'
                ? void go(`/editor?stream=${encodeURIComponent(name)}`)
                : change(version.text)
            }
          >
            {kind === 'stream' ? 'Draw and change it' : 'Change it'}
          </Button>
        )}
        {mayPublish && (
          <>
            <TextField
              size="small"
              label="Copy it to the name"
              value={to}
              onChange={(e) => setTo(e.target.value)}
            />
            <Button variant="outlined" disabled={to.trim() === '' || doing.busy} onClick={copy}>
              Copy
            </Button>
          </>
        )}
      </Stack>
      {doing.problem && (
        <Typography role="alert" color="error">
          {doing.problem}
        </Typography>
      )}
      <Box
        component="pre"
        sx={{
          m: 0,
          fontFamily: mono,
          fontSize: '0.84rem',
          whiteSpace: 'pre-wrap',
          overflowWrap: 'anywhere',
          maxHeight: 460,
          overflow: 'auto',
        }}
        tabIndex={0}
        aria-label="Its text"
      >
        {version.text}
      </Box>
    </Paper>
  );
}

function Uses({ kind, name }: { kind: string; name: string }) {
  const uses = useQuery({
    queryKey: ['definitions', 'uses', kind, name],
    queryFn: () => body(api.GET('/api/v1/definitions/uses', { params: { query: { kind, name } } })),
  });
  if (!uses.data) {
    return null;
  }
  return (
    <Paper sx={{ p: 2 }}>
      <Typography variant="h2">
        {uses.data.length === 0
          ? 'Nothing uses it'
          : `Used in ${uses.data.length} ${uses.data.length === 1 ? 'place' : 'places'}`}
      </Typography>
      <Box sx={{ columns: '320px', columnGap: 3, mt: uses.data.length ? 1 : 0 }}>
        {uses.data.map((use) => (
          <Typography
            key={`${use.kind} ${use.name} ${use.where}`}
            sx={{ overflowWrap: 'anywhere' }}
          >
            <TextLink to={definitionAddress(use.kind, use.name)}>
              {use.where === use.name ? `${use.kind} ${use.name}` : use.where}
            </TextLink>
          </Typography>
        ))}
      </Box>
    </Paper>
  );
}
