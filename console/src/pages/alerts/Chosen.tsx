import {
  Alert as Said,
  Button,
  Checkbox,
  FormControlLabel,
  Stack,
  Typography,
} from '@mui/material';
import { useState } from 'react';
import { api, body, type Schemas } from '../../api/client';
import { useDoing } from '../../parts/doing';
import { PutOffDialog } from './PutOffDialog';

type Alert = Schemas['AlertView'];
type Done = Schemas['AlertDone'];

interface ChosenProps {
  chosen: Alert[];
  /** Those on the page that can be chosen. */
  shown: Alert[];
  now: number;
  onChoose: (ids: number[], on: boolean) => void;
}

/** What is done to many alerts at once, with those that are part of them. */
export function Chosen({ chosen, shown, now, onChoose }: ChosenProps) {
  const [puttingOff, setPuttingOff] = useState(false);
  const [withParts, setWithParts] = useState(true);
  const [refused, setRefused] = useState<Done[]>([]);
  const { act, problem, busy } = useDoing('alerts');
  const ids = chosen.map((one) => one.id);
  const parts = chosen.reduce((sum, one) => sum + one.parts, 0);
  const all = shown.length > 0 && shown.every((one) => ids.includes(one.id));
  const doIt = async (action: string, reason = '', until?: string) => {
    const done = await act(async () => {
      const answers = await body(
        api.POST('/api/v1/alerts/actions', { body: { ids, withParts, action, reason, until } }),
      );
      setRefused(answers.filter((one) => one.refusal !== ''));
    });
    if (done) {
      onChoose(ids, false);
    }
    return done;
  };
  return (
    <Stack sx={{ gap: 1 }}>
      <Stack direction="row" sx={{ gap: 1, alignItems: 'center', flexWrap: 'wrap', pl: 1.4 }}>
        <FormControlLabel
          control={
            <Checkbox
              size="small"
              checked={all}
              indeterminate={ids.length > 0 && !all}
              onChange={(e) =>
                onChoose(e.target.checked ? shown.map((one) => one.id) : ids, e.target.checked)
              }
            />
          }
          label={ids.length === 0 ? 'All on this page' : `${ids.length} chosen`}
        />
        {ids.length > 0 && (
          <>
            <Button
              size="small"
              variant="contained"
              disabled={busy}
              onClick={() => void doIt('acknowledge')}
            >
              I take them on
            </Button>
            <Button size="small" disabled={busy} onClick={() => setPuttingOff(true)}>
              Put off
            </Button>
            <Button size="small" disabled={busy} onClick={() => void doIt('close')}>
              Close
            </Button>
            {parts > 0 && (
              <FormControlLabel
                control={
                  <Checkbox
                    size="small"
                    checked={withParts}
                    onChange={(e) => setWithParts(e.target.checked)}
                  />
                }
                label={`with the ${parts} that ${parts === 1 ? 'is' : 'are'} part of them`}
              />
            )}
          </>
        )}
      </Stack>
      {puttingOff && (
        <PutOffDialog
          title={`${ids.length} alerts`}
          now={now}
          onClose={() => setPuttingOff(false)}
          onDo={(until, reason) => doIt('put-off', reason, until)}
        />
      )}
      {problem && <Said severity="error">{problem}</Said>}
      {refused.length > 0 && (
        <Said severity="warning" onClose={() => setRefused([])}>
          {refused.map((one) => (
            <Typography key={one.alert} variant="body2">
              {one.title}: {one.refusal}
            </Typography>
          ))}
        </Said>
      )}
    </Stack>
  );
}
