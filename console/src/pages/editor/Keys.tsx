import { Stack, Typography } from '@mui/material';

/** What the keyboard does in the picture. */
export function Keys() {
  const all: [string, string][] = [
    ['Arrow keys', 'go from job to job'],
    ['Enter', 'opens the form of the one you are on; Escape leads back'],
    ['N', 'adds a job; A adds one that waits for the one you are on'],
    ['C', 'draws an arrow: go to what is to wait, then Enter'],
    ['Space', 'chooses it besides those that are chosen'],
    ['Alt and arrow keys', 'move what is chosen'],
    ['Delete', 'takes away what is chosen'],
    ['Ctrl Z, Ctrl Y', 'undo and redo; Ctrl C, Ctrl V, Ctrl D copy'],
    ['F, +, −', 'all of it, closer, further'],
    ['Ctrl S', 'saves the draft'],
  ];
  return (
    <Stack sx={{ gap: 0.6 }}>
      <Typography>
        Choose a job or an arrow to change it here. Draw from the circle of one job to another that
        is to wait for it; Shift and drag chooses several.
      </Typography>
      <Typography variant="h3" sx={{ mt: 1 }}>
        By keyboard, in the picture
      </Typography>
      {all.map(([keys, what]) => (
        <Typography key={keys} variant="body2">
          <b>{keys}</b> {what}
        </Typography>
      ))}
    </Stack>
  );
}
