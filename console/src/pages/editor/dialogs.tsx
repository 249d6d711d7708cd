import {
  Autocomplete,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  MenuItem,
  Stack,
  TextField,
  Typography,
} from '@mui/material';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, body, type Schemas } from '../../api/client';
import { useDoing } from '../../parts/doing';
import { Waiting } from '../../parts/Notice';
import { TextLink } from '../../parts/TextLink';
import { HoldsFrom } from '../changes/HoldsFrom';
import { PreviewShown } from '../changes/PreviewShown';
import { holds, published } from '../changes/holding';
import { streamAddress } from '../streams/address';
import type { Kept } from './useDraft';

type Draft = Schemas['DraftView'];

function title(draft: Draft, done?: Schemas['PublishResult']): string {
  if (!done) {
    return `Publish “${draft.title}”?`;
  }
  return done.goesLive ? 'It will be published' : 'It is published';
}

/** What publishing a draft would do, and the way to do it. */
export function PublishDialog({
  draft,
  onClose,
  onAct,
}: {
  draft: Draft;
  onClose: () => void;
  onAct: Kept['act'];
}) {
  const [reason, setReason] = useState('');
  const [from, setFrom] = useState('planned');
  const [done, setDone] = useState<Schemas['PublishResult']>();
  const doing = useDoing();
  const queries = useQueryClient();
  const preview = useQuery({
    queryKey: ['drafts', 'preview', draft.id, draft.version, from],
    queryFn: () =>
      body(
        api.POST('/api/v1/definitions/preview', {
          body: { files: draft.files, days: 400, holds: holds(from) },
        }),
      ),
    placeholderData: (before) => before,
    gcTime: 0,
  });
  const publish = () =>
    doing.act(async () => {
      setDone(
        await body(
          api.POST('/api/v1/drafts/{id}/publication', {
            params: { path: { id: draft.id } },
            body: { reason, holds: holds(from) },
          }),
        ),
      );
      await queries.invalidateQueries();
    });
  const streams = [...(done?.added ?? []), ...(done?.changed ?? [])]
    .filter((one) => one.startsWith('stream '))
    .map((one) => one.slice('stream '.length));
  return (
    <Dialog open onClose={onClose} maxWidth="lg" fullWidth>
      <DialogTitle>{title(draft, done)}</DialogTitle>
      <DialogContent>
        {done ? (
          <Stack sx={{ gap: 1 }}>
            <Typography role="status">{published(done)}</Typography>
            {streams.map((name) => (
              <Typography key={name}>
                <TextLink to={streamAddress(name)}>Open {name}</TextLink>
                {done.added.includes(`stream ${name}`) &&
                  ': a new stream is paused unless its text says otherwise; resume it there'}
              </Typography>
            ))}
          </Stack>
        ) : preview.data ? (
          <Stack sx={{ gap: 1.5, pt: 1 }}>
            <HoldsFrom from={from} onFrom={setFrom} />
            <PreviewShown preview={preview.data} />
          </Stack>
        ) : (
          <Waiting error={preview.error} what="The preview" />
        )}
        {doing.problem && (
          <Typography role="alert" color="error" sx={{ mt: 1 }}>
            {doing.problem}
          </Typography>
        )}
        {doing.problem.includes('somebody else has agreed') && (
          <Button
            variant="outlined"
            sx={{ mt: 1 }}
            onClick={() =>
              onAct({ action: 'ask', with: [], version: draft.version, reason }).then(onClose)
            }
          >
            Ask others to agree
          </Button>
        )}
      </DialogContent>
      <DialogActions>
        {!done && (
          <TextField
            size="small"
            fullWidth
            label="Why (kept in the audit trail)"
            value={reason}
            onChange={(e) => setReason(e.target.value)}
            sx={{ ml: 2 }}
          />
        )}
        <Button onClick={onClose} sx={{ whiteSpace: 'nowrap', flex: 'none' }}>
          {done ? 'Close' : 'Not now'}
        </Button>
        {!done && (
          <Button
            variant="contained"
            disabled={
              !preview.data?.sound ||
              preview.isPlaceholderData ||
              from === 'date' ||
              preview.data.definitions.length === 0 ||
              doing.busy
            }
            onClick={publish}
          >
            Publish
          </Button>
        )}
      </DialogActions>
    </Dialog>
  );
}

type Others = 'ignored' | 'played' | 'waited for';

/** Tries a draft once, under a path of its own. */
export function TryDialog({
  draft,
  stream,
  hosts,
  onClose,
}: {
  draft: Draft;
  stream: string;
  hosts: string[];
  onClose: () => void;
}) {
  const [host, setHost] = useState('');
  const [others, setOthers] = useState<Others>('ignored');
  const [tried, setTried] = useState<Schemas['DraftTrialView']>();
  const doing = useDoing();
  const start = () =>
    doing.act(async () =>
      setTried(
        await body(
          api.POST('/api/v1/drafts/{id}/trial', {
            params: { path: { id: draft.id } },
            body: {
              stream,
              host,
              ignoring: others === 'ignored',
              playing: others === 'played',
              reason: `a try of draft ${draft.id}`,
            },
          }),
        ),
      ),
    );
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>Try {stream} once</DialogTitle>
      <DialogContent>
        <Stack sx={{ gap: 1.5, pt: 1 }}>
          <Typography>
            It runs now, under the path trial/{draft.id}/{stream}. Such runs count in no history,
            prerequisite or commitment, and alert nobody; what the commands do, they do.
          </Typography>
          <TextField
            select
            size="small"
            label="On which host"
            value={host}
            onChange={(e) => setHost(e.target.value)}
            slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
          >
            <MenuItem value="">where each job says</MenuItem>
            {hosts.map((one) => (
              <MenuItem key={one} value={one}>
                all of it on {one}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            select
            size="small"
            label="What it asks of other streams and of files"
            value={others}
            onChange={(e) => setOthers(e.target.value as Others)}
          >
            <MenuItem value="ignored">does not count</MenuItem>
            <MenuItem value="played">is played: you answer for each how it turned out</MenuItem>
            <MenuItem value="waited for">is waited for, as when it is live</MenuItem>
          </TextField>
          {doing.problem && (
            <Typography role="alert" color="error">
              {doing.problem}
            </Typography>
          )}
          {tried && (
            <Typography role="status">
              {tried.runs.length} {tried.runs.length === 1 ? 'run' : 'runs'} started:{' '}
              <TextLink to={streamAddress(tried.stream)}>see how they go</TextLink>
            </Typography>
          )}
        </Stack>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
        <Button variant="contained" onClick={start} disabled={doing.busy}>
          {tried ? 'Try it again' : 'Try it'}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

/** Whom a draft is shared with. */
export function ShareDialog({
  draft,
  onClose,
  onAct,
  problem,
}: {
  draft: Draft;
  onClose: () => void;
  onAct: Kept['act'];
  problem: string;
}) {
  const [who, setWho] = useState(draft.shared);
  const share = async () => {
    const done = await onAct({ action: 'share', with: who, version: draft.version, reason: '' });
    if (done) {
      onClose();
    }
  };
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>Share “{draft.title}”</DialogTitle>
      <DialogContent>
        <Autocomplete
          multiple
          freeSolo
          options={['everybody', 'authors', 'operators', 'administrators']}
          value={who}
          onChange={(_, to) => setWho(to)}
          renderInput={(params) => (
            <TextField
              {...params}
              label="People, or everybody of a role"
              helperText="They see it, may copy it, take it over, and agree to it."
              sx={{ mt: 1 }}
            />
          )}
        />
        {problem && (
          <Typography role="alert" color="error" sx={{ mt: 1 }}>
            {problem}
          </Typography>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Not now</Button>
        <Button variant="contained" onClick={share}>
          Share
        </Button>
      </DialogActions>
    </Dialog>
  );
}
