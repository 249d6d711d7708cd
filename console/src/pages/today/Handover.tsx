import { Alert as Said, Box, Button, Paper, Stack, TextField, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, body } from '../../api/client';
import { useNow } from '../../api/live';
import { clock } from '../../parts/time';
import { useDoing } from '../../parts/doing';

/** The last note that a shift left for the next, with who has signed for it; and a new one. */
export function Handover({ mayAct }: { mayAct: boolean }) {
  const now = useNow();
  const [writing, setWriting] = useState(false);
  const [text, setText] = useState('');
  const { act, problem, busy } = useDoing('handovers');
  const notes = useQuery({
    queryKey: ['handovers'],
    queryFn: () => body(api.GET('/api/v1/handovers', { params: { query: { limit: 1 } } })),
    refetchInterval: 60_000,
  });
  const note = notes.data?.[0];
  const write = async () => {
    if (await act(() => body(api.POST('/api/v1/handovers', { body: { text } })))) {
      setText('');
      setWriting(false);
    }
  };
  if (!notes.data || (!note && !mayAct)) {
    return null;
  }
  return (
    <Paper sx={{ p: 2 }} component="section" aria-label="Handover">
      <Stack direction="row" sx={{ alignItems: 'flex-start', gap: 2 }}>
        <Box sx={{ flex: 1 }}>
          <Typography variant="h2">Handover</Typography>
          {note ? (
            <>
              <Typography sx={{ whiteSpace: 'pre-line' }}>{note.text}</Typography>
              <Typography variant="body2" color="textSecondary">
                {note.who}, {clock(note.written, now, false)}: {note.standing}.{' '}
                {note.takenBy
                  ? `Taken over by ${note.takenBy}, ${clock(note.taken, now, false)}.`
                  : 'Nobody has signed for it yet.'}
              </Typography>
            </>
          ) : (
            <Typography color="textSecondary">No shift has written anything yet.</Typography>
          )}
        </Box>
        {mayAct && (
          <Stack direction="row" sx={{ gap: 1 }}>
            {note && !note.takenBy && (
              <Button
                size="small"
                variant="contained"
                disabled={busy}
                onClick={() =>
                  void act(() =>
                    body(
                      api.POST('/api/v1/handovers/{id}/taken', {
                        params: { path: { id: note.id } },
                      }),
                    ),
                  )
                }
              >
                I take over
              </Button>
            )}
            <Button size="small" onClick={() => setWriting(!writing)}>
              {writing ? 'Not now' : 'Write a note'}
            </Button>
          </Stack>
        )}
      </Stack>
      {writing && (
        <Stack direction="row" sx={{ gap: 1, mt: 1, alignItems: 'flex-start' }}>
          <TextField
            multiline
            minRows={2}
            fullWidth
            size="small"
            label="What whoever comes next must know"
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
          <Button variant="outlined" disabled={busy || !text.trim()} onClick={() => void write()}>
            Sign it
          </Button>
        </Stack>
      )}
      {problem && <Said severity="error">{problem}</Said>}
    </Paper>
  );
}
