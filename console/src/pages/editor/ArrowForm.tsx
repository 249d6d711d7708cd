import {
  Button,
  Checkbox,
  FormControlLabel,
  MenuItem,
  Stack,
  TextField,
  Typography,
} from '@mui/material';
import { useState } from 'react';
import type { Act, Editing } from './editing';

const OUTCOMES: [string, string][] = [
  ['succeeded', 'it has succeeded'],
  ['failed', 'it has failed'],
  ['ended', 'it has ended, either way'],
  ['skipped', 'it was skipped'],
  ['running', 'it is running'],
  ['code', 'it ended with an exit code'],
  ['value', 'a value that it handed back'],
];
const BEFORE = ' on the previous business date';

/** What an arrow asks for, and how that is changed. */
export function ArrowForm({ state, act }: { state: Editing; act: (what: Act) => void }) {
  const job = state.seen.jobs.find((one) => one.name === state.arrow?.to);
  const ask = job?.asks[state.arrow?.nth ?? -1];
  const [draft, setDraft] = useState('');
  if (!job || !ask) {
    return null;
  }
  const before = ask.words.endsWith(BEFORE);
  const words = ask.words.replace(BEFORE, '');
  const outcome = words.startsWith('ended with code')
    ? 'code'
    : ask.kind === 'value'
      ? 'value'
      : (OUTCOMES.find(([one]) => one === words)?.[0] ?? '');
  const say = (to: string, previous = before) =>
    act({ do: 'outcome', words: to + (previous ? BEFORE : '') });
  const detail = outcome === 'code' ? words.slice('ended with code '.length) : words;
  return (
    <Stack sx={{ gap: 1.5 }}>
      <Typography>
        <b>{job.name}</b> waits for <b>{ask.on}</b> {ask.not && 'not '}
        {ask.words}
        {ask.alternative && ', or another of those that will do'}
      </Typography>
      {ask.kind !== 'file' && (
        <TextField
          select
          size="small"
          label="until"
          value={outcome}
          helperText={outcome === '' ? 'As the text says; choosing one here replaces that.' : ''}
          onChange={(e) =>
            say(
              e.target.value === 'code'
                ? 'ended with code 0'
                : e.target.value === 'value'
                  ? 'value rows > 0'
                  : e.target.value,
            )
          }
        >
          {OUTCOMES.map(([key, name]) => (
            <MenuItem key={key} value={key}>
              {name}
            </MenuItem>
          ))}
        </TextField>
      )}
      {(outcome === 'code' || outcome === 'value') && (
        <TextField
          size="small"
          label={outcome === 'code' ? 'exit codes' : 'value and what it must be like'}
          value={draft || detail}
          helperText={outcome === 'code' ? 'Such as 0 to 4, 8.' : 'Such as rows > 1000.'}
          onChange={(e) => setDraft(e.target.value)}
          onBlur={() => {
            if (draft.trim() !== '') {
              say(outcome === 'code' ? `ended with code ${draft.trim()}` : `value ${draft.trim()}`);
            }
            setDraft('');
          }}
        />
      )}
      {ask.kind === 'run' && (
        <FormControlLabel
          control={
            <Checkbox
              size="small"
              checked={before}
              onChange={(e) => say(words, e.target.checked)}
            />
          }
          label="that of the business date before"
        />
      )}
      <Button variant="outlined" onClick={() => act({ do: 'delete' })}>
        Take the arrow away
      </Button>
    </Stack>
  );
}
