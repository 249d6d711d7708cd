import {
  Button,
  Paper,
  Stack,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TextField,
  Typography,
  Box,
} from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { api, body, type Schemas } from '../../api/client';
import { useNow } from '../../api/live';
import { Notice, Waiting } from '../../parts/Notice';
import { TextLink } from '../../parts/TextLink';
import { useDoing } from '../../parts/doing';
import { clock } from '../../parts/time';

/** What is being written and is not live yet: one's own drafts, and those that others share. */
export function DraftsPage({
  mayPublish,
  mayAdminister,
}: {
  mayPublish: boolean;
  mayAdminister: boolean;
}) {
  const go = useNavigate();
  const now = useNow(60_000);
  const drafts = useQuery({
    queryKey: ['drafts', 'list'],
    queryFn: () => body(api.GET('/api/v1/drafts')),
  });
  const me = useQuery({ queryKey: ['me'], queryFn: () => body(api.GET('/api/v1/session')) });
  const doing = useDoing('drafts');
  const drop = (id: number) =>
    doing.act(() => api.DELETE('/api/v1/drafts/{id}', { params: { path: { id } } }));
  const stay = (draft: Schemas['DraftView']) =>
    doing.act(() =>
      api.POST('/api/v1/drafts/{id}/actions', {
        params: { path: { id: draft.id } },
        body: { action: 'stay', with: [], version: draft.version, reason: '' },
      }),
    );
  if (!drafts.data) {
    return <Waiting error={drafts.error} what="Drafts" />;
  }
  return (
    <Stack sx={{ gap: 2 }}>
      <Stack direction="row" sx={{ alignItems: 'flex-start', gap: 2 }}>
        <Box sx={{ flex: 1 }}>
          <Typography variant="h1">Drafts</Typography>
          <Typography color="textSecondary">
            Definitions that are being written and are not live: yours, and those shared with you.
          </Typography>
        </Box>
        {mayPublish && (
          <Button variant="contained" onClick={() => void go('/editor')}>
            Draw a new stream
          </Button>
        )}
      </Stack>
      {doing.problem && (
        <Typography role="alert" color="error">
          {doing.problem}
        </Typography>
      )}
      {drafts.data.length === 0 ? (
        <Notice
          title="No drafts"
          text="A stream that you change in the editor becomes a draft until it is published."
        />
      ) : (
        <Paper>
          <Table size="small">
            <TableHead>
              <TableRow>
                <TableCell>Draft</TableCell>
                <TableCell>With</TableCell>
                <TableCell>Last saved</TableCell>
                <TableCell>Shared with</TableCell>
                <TableCell>How it stands</TableCell>
                <TableCell />
              </TableRow>
            </TableHead>
            <TableBody>
              {[...drafts.data]
                .sort((a, b) => (b.changed ?? '').localeCompare(a.changed ?? ''))
                .map((draft) => (
                  <TableRow key={draft.id}>
                    <TableCell>
                      <TextLink to={`/editor?draft=${draft.id}`}>{draft.title}</TextLink> (
                      {draft.id})
                    </TableCell>
                    <TableCell>{draft.holder}</TableCell>
                    <TableCell>{clock(draft.changed, now)}</TableCell>
                    <TableCell>{draft.shared.join(', ') || 'nobody'}</TableCell>
                    <TableCell>{standing(draft)}</TableCell>
                    <TableCell align="right">
                      {draft.liveFrom && mayPublish && (
                        <Button
                          size="small"
                          onClick={() => stay(draft)}
                          aria-label={`Keep ${draft.title} from going live`}
                        >
                          Keep it from that
                        </Button>
                      )}
                      {draft.holder === me.data?.name && (
                        <Button
                          size="small"
                          onClick={() => drop(draft.id)}
                          aria-label={`Throw away ${draft.title}`}
                        >
                          Throw away
                        </Button>
                      )}
                    </TableCell>
                  </TableRow>
                ))}
            </TableBody>
          </Table>
        </Paper>
      )}
      {mayAdminister && <Agreement />}
    </Stack>
  );
}

function standing(draft: Schemas['DraftView']): string {
  const tries =
    draft.trials > 0 ? `, tried ${draft.trials} ${draft.trials === 1 ? 'time' : 'times'}` : '';
  if (draft.liveFrom) {
    const but = draft.liveTrouble === '' ? '' : `, but cannot: ${draft.liveTrouble}`;
    return `goes live for ${draft.liveFrom}, as ${draft.liveBy} said${but}`;
  }
  if (draft.agreed) {
    return `${draft.agreedBy} has agreed${tries}`;
  }
  return (draft.asked ? 'waits for somebody to agree' : 'is being written') + tries;
}

/** Whose streams can only be changed once somebody else has agreed. */
function Agreement() {
  const found = useQuery({
    queryKey: ['drafts', 'agreement'],
    queryFn: () => body(api.GET('/api/v1/agreement')),
  });
  const [typed, setTyped] = useState<string | null>(null);
  const doing = useDoing('drafts');
  const shown = typed ?? (found.data?.departments ?? []).join(', ');
  const save = async () => {
    const departments = shown
      .split(',')
      .map((one) => one.trim())
      .filter((one) => one !== '');
    if (await doing.act(() => api.PUT('/api/v1/agreement', { body: { departments } }))) {
      setTyped(null);
    }
  };
  return (
    <Paper sx={{ p: 2 }}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        Where somebody else must agree
      </Typography>
      <Stack direction="row" sx={{ gap: 1.5, alignItems: 'flex-start' }}>
        <TextField
          size="small"
          fullWidth
          label="Departments, or all"
          value={shown}
          helperText="Their streams can only be changed by a draft that somebody else has agreed to. Empty: nowhere."
          onChange={(e) => setTyped(e.target.value)}
        />
        <Button variant="outlined" disabled={typed === null || doing.busy} onClick={save}>
          Set
        </Button>
      </Stack>
      {doing.problem && (
        <Typography role="alert" color="error">
          {doing.problem}
        </Typography>
      )}
    </Paper>
  );
}
