import {
  Box,
  Button,
  Checkbox,
  FormControlLabel,
  Paper,
  Stack,
  TextField,
  Typography,
} from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, body, type Schemas } from '../../api/client';
import { useNow } from '../../api/live';
import { Waiting } from '../../parts/Notice';
import { TextLink } from '../../parts/TextLink';
import { WithReason } from '../../parts/WithReason';
import { useDoing } from '../../parts/doing';
import { clock } from '../../parts/time';
import { mono } from '../../theme';
import { PreviewShown } from '../changes/PreviewShown';
import { published } from '../changes/holding';
import { definitionAddress } from '../definitions/address';
import { short, standing } from './standing';

type Source = Schemas['SourceView'];

/** The repository that definitions come from: what it has, what of it is live, and what drifts. */
export function RepositoryPage({
  mayPublish,
  mayAdminister,
}: {
  mayPublish: boolean;
  mayAdminister: boolean;
}) {
  const source = useQuery({
    queryKey: ['source', 'one'],
    queryFn: () => body(api.GET('/api/v1/source')),
    refetchInterval: 20_000,
  });
  if (!source.data) {
    return <Waiting error={source.error} what="The repository" />;
  }
  const isNamed = source.data.address !== '';
  return (
    <Stack sx={{ gap: 2 }}>
      <Box>
        <Typography variant="h1">Repository</Typography>
        <Typography color="textSecondary">
          Definitions may come from a Git repository: each commit is checked, and published by
          itself or after a person’s yes.
        </Typography>
      </Box>
      {isNamed ? (
        <Followed source={source.data} mayPublish={mayPublish} />
      ) : (
        <Paper sx={{ p: 2 }}>
          <Typography variant="h2">No repository is followed</Typography>
          <Typography>
            Definitions are published by people: from the editor, from files, from parcels.
            {!mayAdminister && ' An administrator may name a repository here.'}
          </Typography>
        </Paper>
      )}
      {isNamed && mayPublish && <Drift />}
      {mayAdminister && <Named key={source.data.address} source={source.data} />}
    </Stack>
  );
}

function Followed({ source, mayPublish }: { source: Source; mayPublish: boolean }) {
  const now = useNow(30_000);
  const doing = useDoing('source', 'definitions');
  const [preview, setPreview] = useState<Schemas['PreviewView']>();
  const [reason, setReason] = useState('');
  const [says, setSays] = useState('');
  const attempt = (what: () => Promise<void>) => {
    setSays('');
    return doing.act(what);
  };
  const look = () =>
    attempt(async () => {
      await body(api.POST('/api/v1/source/look'));
      setPreview(undefined);
    });
  const show = () =>
    attempt(async () => setPreview(await body(api.POST('/api/v1/source/preview'))));
  const publish = () =>
    attempt(async () => {
      const done = await body(
        api.POST('/api/v1/source/publication', { body: { commit: source.head, reason } }),
      );
      setSays(published(done));
      setPreview(undefined);
    });
  const waits = source.head !== '' && source.head !== source.published;
  return (
    <Paper sx={{ p: 2 }}>
      <Typography variant="h2" sx={{ overflowWrap: 'anywhere' }}>
        {source.address}
      </Typography>
      <Typography color="textSecondary" sx={{ mb: 1 }}>
        branch {source.branch}
        {source.directory !== '' && `, below ${source.directory}`};{' '}
        {source.byItself ? 'sound commits are published by themselves' : 'a person publishes'};{' '}
        {source.looked ? `looked at ${clock(source.looked, now)}` : 'not looked at yet'}
      </Typography>
      <Typography color={source.problem === '' ? undefined : 'error'} role="status">
        {standing(source)}
      </Typography>
      {source.head !== '' && (
        <Typography sx={{ mt: 0.5 }}>
          <Box component="code" sx={{ fontFamily: mono }}>
            {short(source.head)}
          </Box>{' '}
          {source.headAuthor}: {source.headMessage}
        </Typography>
      )}
      {mayPublish && (
        <Stack direction="row" sx={{ gap: 1.5, mt: 1.5 }}>
          <Button variant="outlined" disabled={doing.busy} onClick={look}>
            Look at it now
          </Button>
          {waits && (
            <Button variant="outlined" disabled={doing.busy} onClick={show}>
              What would change?
            </Button>
          )}
        </Stack>
      )}
      {doing.problem && (
        <Typography role="alert" color="error" sx={{ mt: 1 }}>
          {doing.problem}
        </Typography>
      )}
      {says && <Typography sx={{ mt: 1 }}>{says}</Typography>}
      {preview && (
        <Stack sx={{ gap: 1.5, mt: 1.5 }}>
          <PreviewShown preview={preview} />
          {preview.sound && (
            <WithReason reason={reason} onReason={setReason} busy={doing.busy} onAct={publish}>
              Publish {short(source.head)}
            </WithReason>
          )}
        </Stack>
      )}
    </Paper>
  );
}

/** What is live and is not as the repository has it. */
function Drift() {
  const [branch, setBranch] = useState('');
  const [reason, setReason] = useState('');
  const [says, setSays] = useState('');
  const doing = useDoing('source');
  const drift = useQuery({
    queryKey: ['source', 'drift'],
    queryFn: () => body(api.GET('/api/v1/source/drift')),
  });
  const write = () =>
    doing.act(async () => {
      const done = await body(api.POST('/api/v1/source/branch', { body: { branch, reason } }));
      setSays(`Branch ${done.branch} has it as commit ${short(done.commit)}.`);
    });
  if (!drift.data) {
    return drift.error ? <Waiting error={drift.error} what="What differs" /> : null;
  }
  return (
    <Paper sx={{ p: 2 }}>
      <Typography variant="h2" sx={{ mb: 0.5 }}>
        {drift.data.length === 0
          ? 'All that is live is as the repository has it'
          : `Live and not as the repository has it: ${drift.data.length}`}
      </Typography>
      {drift.data.map((one) => (
        <Typography key={`${one.kind} ${one.name}`}>
          <TextLink to={definitionAddress(one.kind, one.name)}>
            {one.kind.replace(/-/g, ' ')} {one.name}
          </TextLink>
          : {one.how}
        </Typography>
      ))}
      {drift.data.length > 0 && (
        <Stack sx={{ gap: 1.5, mt: 1.5 }}>
          <TextField
            size="small"
            label="Write it back as branch"
            value={branch}
            helperText="A new branch of the repository, for a review; nothing else in it is touched."
            onChange={(e) => setBranch(e.target.value)}
            sx={{ maxWidth: 420 }}
          />
          {branch.trim() !== '' && (
            <WithReason reason={reason} onReason={setReason} busy={doing.busy} onAct={write}>
              Write it back
            </WithReason>
          )}
        </Stack>
      )}
      {doing.problem && (
        <Typography role="alert" color="error" sx={{ mt: 1 }}>
          {doing.problem}
        </Typography>
      )}
      {says && <Typography role="status">{says}</Typography>}
    </Paper>
  );
}

/** Which repository is followed; only administrators say. */
function Named({ source }: { source: Source }) {
  const [address, setAddress] = useState(source.address);
  const [branch, setBranch] = useState(source.branch || 'main');
  const [directory, setDirectory] = useState(source.directory);
  const [account, setAccount] = useState(source.account);
  const [byItself, setByItself] = useState(source.byItself);
  const doing = useDoing('source');
  const save = () =>
    doing.act(() =>
      body(api.PUT('/api/v1/source', { body: { address, branch, directory, account, byItself } })),
    );
  const forget = () => doing.act(() => api.DELETE('/api/v1/source'));
  return (
    <Paper sx={{ p: 2 }}>
      <Typography variant="h2" sx={{ mb: 1.5 }}>
        {source.address === '' ? 'Follow a repository' : 'Follow it otherwise'}
      </Typography>
      <Stack sx={{ gap: 1.5 }}>
        <TextField
          size="small"
          label="Address"
          value={address}
          helperText="https:, http: or file:"
          onChange={(e) => setAddress(e.target.value)}
        />
        <Stack direction="row" sx={{ gap: 1.5 }}>
          <TextField
            size="small"
            label="Branch"
            value={branch}
            onChange={(e) => setBranch(e.target.value)}
          />
          <TextField
            size="small"
            label="Directory"
            value={directory}
            helperText="Empty: all of it"
            onChange={(e) => setDirectory(e.target.value)}
          />
          <TextField
            size="small"
            label="Account"
            value={account}
            helperText="Signs in with PURSER_SOURCE_SECRET of the service; empty for none"
            onChange={(e) => setAccount(e.target.value)}
          />
        </Stack>
        <FormControlLabel
          control={<Checkbox checked={byItself} onChange={(e) => setByItself(e.target.checked)} />}
          label="Publish sound commits by themselves"
        />
        {doing.problem && (
          <Typography role="alert" color="error">
            {doing.problem}
          </Typography>
        )}
        <Stack direction="row" sx={{ gap: 1.5 }}>
          <Button variant="contained" disabled={address.trim() === '' || doing.busy} onClick={save}>
            {source.address === '' ? 'Follow it' : 'Set'}
          </Button>
          {source.address !== '' && (
            <Button variant="outlined" disabled={doing.busy} onClick={forget}>
              Follow none
            </Button>
          )}
        </Stack>
      </Stack>
    </Paper>
  );
}
