import {
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  Typography,
} from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { api, body, type Schemas } from '../../api/client';
import { bytes, clock } from '../../parts/time';
import { shown } from './standing';
import type { Watch } from './Checklist';

type Trial = Schemas['TrialView'];

/** What a watch would find now; nothing is taken. */
export function TryDialog({
  watch,
  now,
  onClose,
}: {
  watch: Watch;
  now: number;
  onClose: () => void;
}) {
  const trial = useQuery({
    queryKey: ['try', watch.name],
    queryFn: () =>
      body(api.POST('/api/v1/watches/{name}/try', { params: { path: { name: watch.name } } })),
    gcTime: 0,
    staleTime: Infinity,
    retry: false,
  });
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle>What {watch.name} would find now</DialogTitle>
      <DialogContent>
        <Typography color="textSecondary" sx={{ mb: 1, overflowWrap: 'anywhere' }}>
          {watch.path} on {watch.place}. Nothing is taken.
        </Typography>
        {trial.isFetching && <Typography>Looking …</Typography>}
        {trial.error && <Typography color="error">{trial.error.message}</Typography>}
        {!trial.isFetching &&
          trial.data?.map((one) => <AtPlace key={one.place} trial={one} now={now} />)}
      </DialogContent>
      <DialogActions>
        <Button onClick={() => trial.refetch()}>Look again</Button>
        <Button variant="contained" onClick={onClose}>
          Close
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function AtPlace({ trial, now }: { trial: Trial; now: number }) {
  const count = trial.files.length + trial.more;
  return (
    <>
      <Typography variant="h3" sx={{ mt: 1.5 }}>
        {trial.place}
      </Typography>
      {trial.problem && <Typography color="error">{trial.problem}</Typography>}
      {[...new Set(trial.troubles)].map((text) => (
        <Typography key={text} color="error">
          {text}
        </Typography>
      ))}
      {!trial.problem && (
        <Typography>
          {count === 0 ? 'No file' : count === 1 ? '1 file' : `${count} files`} would be found
          {trial.notified
            ? '; new ones are told by the system.'
            : '; it is looked again and again.'}
        </Typography>
      )}
      {trial.files.map((file) => (
        <Typography
          key={file.directory + file.name}
          variant="body2"
          sx={{ fontFamily: 'monospace', overflowWrap: 'anywhere' }}
        >
          {file.state} · {shown(file.name)} · {bytes(file.size)} · {clock(file.modified, now)}
          {file.note && ` · ${file.note}`}
        </Typography>
      ))}
      {trial.more > 0 && <Typography variant="body2">and {trial.more} more</Typography>}
    </>
  );
}
