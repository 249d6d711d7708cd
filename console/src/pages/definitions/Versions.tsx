import { Box, Button, Paper, Stack, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, body, type Schemas } from '../../api/client';
import { useNow } from '../../api/live';
import { WithReason } from '../../parts/WithReason';
import { useDoing } from '../../parts/doing';
import { clock } from '../../parts/time';
import { HoldsFrom } from '../changes/HoldsFrom';
import { PreviewShown } from '../changes/PreviewShown';
import { SideBySide } from '../changes/SideBySide';
import { holds } from '../changes/holding';

type Version = Schemas['VersionView'];

/** All versions of a definition: who, when, why and what; and the way back to each. */
export function Versions({
  kind,
  name,
  mayPublish,
}: {
  kind: string;
  name: string;
  mayPublish: boolean;
}) {
  const now = useNow(60_000);
  const [open, setOpen] = useState(0);
  const versions = useQuery({
    queryKey: ['definitions', 'versions', kind, name],
    queryFn: () =>
      body(
        api.GET('/api/v1/definitions/{kind}/versions', {
          params: { path: { kind }, query: { name } },
        }),
      ),
  });
  return (
    <Paper sx={{ p: 2 }}>
      <Typography variant="h2" sx={{ mb: 0.5 }}>
        Versions
      </Typography>
      {(versions.data ?? []).map((one) => (
        <Box key={one.revision} sx={{ borderTop: '1px solid', borderColor: 'divider', py: 0.7 }}>
          <Stack direction="row" sx={{ gap: 2, alignItems: 'center' }}>
            <Box sx={{ width: 110, fontWeight: 600 }}>revision {one.revision}</Box>
            <Box sx={{ width: 170 }}>
              {what(one)}
              {one.inForce && <b>, in force</b>}
            </Box>
            <Typography color="textSecondary" sx={{ width: 250 }}>
              {clock(one.at, now)}, {one.who}
            </Typography>
            <Box sx={{ flex: 1 }}>{[one.origin, one.reason].filter(Boolean).join(': ')}</Box>
            {one.runs > 0 && (
              <Typography color="textSecondary">
                {one.runs} {one.runs === 1 ? 'run' : 'runs'}
              </Typography>
            )}
            <Button
              size="small"
              aria-expanded={open === one.revision}
              onClick={() => setOpen(open === one.revision ? 0 : one.revision)}
            >
              {open === one.revision ? 'Close' : 'Look'}
            </Button>
          </Stack>
          {open === one.revision && <Looked version={one} mayPublish={mayPublish} />}
        </Box>
      ))}
    </Paper>
  );
}

function what(one: Version): string {
  return one.action === 'changed'
    ? `${one.fields} ${one.fields === 1 ? 'field' : 'fields'}`
    : one.action;
}

function Looked({ version, mayPublish }: { version: Version; mayPublish: boolean }) {
  const { kind, name, revision } = version;
  const [preview, setPreview] = useState<Schemas['PreviewView']>();
  const [reason, setReason] = useState('');
  const [from, setFrom] = useState('planned');
  const doing = useDoing('definitions');
  const whole = useQuery({
    queryKey: ['definitions', 'version', kind, name, revision],
    queryFn: () =>
      body(
        api.GET('/api/v1/definitions/{kind}/version', {
          params: { path: { kind }, query: { name, revision } },
        }),
      ),
  });
  const wanted = { kind, name, revision, anyway: false, days: 400, reason, holds: holds(from) };
  const look = () =>
    doing.act(async () =>
      setPreview(await body(api.POST('/api/v1/definitions/revert-preview', { body: wanted }))),
    );
  const revert = () =>
    doing.act(async () => {
      await body(
        api.POST('/api/v1/definitions/revert', {
          body: wanted,
          params: { header: { 'If-Match': `"${preview?.revision}"` } },
        }),
      );
      setPreview(undefined);
    });
  if (!whole.data) {
    return null;
  }
  return (
    <Stack sx={{ gap: 1.5, py: 1 }}>
      <SideBySide
        before={whole.data.before}
        after={whole.data.text}
        titles={[
          whole.data.against > 0 ? `revision ${whole.data.against}` : 'there was none',
          `revision ${revision}`,
        ]}
      />
      {doing.problem && (
        <Typography role="alert" color="error">
          {doing.problem}
        </Typography>
      )}
      {mayPublish && !version.inForce && !version.madeBy && whole.data.text !== '' && !preview && (
        <Stack direction="row" sx={{ gap: 2 }}>
          <HoldsFrom from={from} onFrom={setFrom} />
          <Button variant="outlined" disabled={doing.busy || from === 'date'} onClick={look}>
            What would going back to this change?
          </Button>
        </Stack>
      )}
      {preview && (
        <>
          <PreviewShown preview={preview} />
          {preview.sound && preview.definitions.length > 0 && (
            <WithReason reason={reason} onReason={setReason} busy={doing.busy} onAct={revert}>
              Go back to revision {revision}
            </WithReason>
          )}
        </>
      )}
    </Stack>
  );
}
