import {
  Button,
  MenuItem,
  Stack,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TextField,
  Typography,
} from '@mui/material';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, body, type Schemas } from '../../api/client';
import { useNow } from '../../api/live';
import { ActionDialog } from '../../parts/ActionDialog';
import { useDoing } from '../../parts/doing';
import { Waiting } from '../../parts/Notice';
import { clock } from '../../parts/time';

type Person = Schemas['PersonView'];
type Deed = 'lock' | 'unlock' | 'sign-out';

const deeds: Record<Deed, { verb: string; effect: string }> = {
  lock: {
    verb: 'Lock out',
    effect: 'Sessions, tokens and live connections end at once, until somebody unlocks them.',
  },
  unlock: {
    verb: 'Unlock',
    effect: 'They may sign in again, and their tokens open what they did.',
  },
  'sign-out': { verb: 'Sign out', effect: 'All sessions in browsers end at once; tokens go on.' },
};

/** Everybody who may sign in. */
export function People() {
  const now = useNow(60_000);
  const queries = useQueryClient();
  const [asked, setAsked] = useState<{ person: Person; deed: Deed }>();
  const people = useQuery({
    queryKey: ['people'],
    queryFn: () => body(api.GET('/api/v1/people')),
  });
  if (!people.data) {
    return <Waiting error={people.error} what="People" />;
  }
  const act = async (name: string, action: Deed, reason: string) => {
    await body(
      api.POST('/api/v1/people/{name}/actions', {
        params: { path: { name } },
        body: { action, reason },
      }),
    );
    await queries.invalidateQueries({ queryKey: ['people'] });
  };
  return (
    <section aria-label="People">
      <Typography variant="h2">People</Typography>
      <Table size="small">
        <TableHead>
          <TableRow>
            {['Name', 'Role', 'Standing', 'Tokens', 'Since', ''].map((title) => (
              <TableCell key={title}>{title}</TableCell>
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          {people.data.map((person) => (
            <TableRow key={person.name}>
              <TableCell>{person.name}</TableCell>
              <TableCell>{person.role}</TableCell>
              <TableCell>{standing(person)}</TableCell>
              <TableCell>{person.tokens}</TableCell>
              <TableCell>{clock(person.since, now)}</TableCell>
              <TableCell align="right">
                {(person.locked ? (['unlock'] as Deed[]) : (['sign-out', 'lock'] as Deed[])).map(
                  (deed) => (
                    <Button key={deed} size="small" onClick={() => setAsked({ person, deed })}>
                      {deeds[deed].verb}
                    </Button>
                  ),
                )}
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
      <Newcomer />
      {asked && (
        <ActionDialog
          title={`${deeds[asked.deed].verb} ${asked.person.name}?`}
          verb={deeds[asked.deed].verb}
          effect={deeds[asked.deed].effect}
          onClose={() => setAsked(undefined)}
          onDo={(reason) => act(asked.person.name, asked.deed, reason)}
        />
      )}
    </section>
  );
}

function standing(person: Person): string {
  if (person.locked) {
    return 'locked out';
  }
  return person.mustChange ? 'must replace the first password' : 'may sign in';
}

/** Adds somebody, or gives them another role or first password. */
function Newcomer() {
  const [name, setName] = useState('');
  const [role, setRole] = useState('operator');
  const [password, setPassword] = useState('');
  const [mail, setMail] = useState('');
  const { act, problem, busy } = useDoing('people');
  const save = async () => {
    const saved = await act(() =>
      body(
        api.PUT('/api/v1/people/{name}', {
          params: { path: { name } },
          body: { name, role, password, ...(mail && { mail }) } as Schemas['PersonRequest'],
        }),
      ),
    );
    if (saved) {
      setName('');
      setPassword('');
      setMail('');
    }
  };
  return (
    <Stack sx={{ gap: 0.5, mt: 1.5 }}>
      <Stack direction="row" sx={{ gap: 1, alignItems: 'center' }}>
        <TextField
          size="small"
          label="Name"
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
        <TextField
          select
          size="small"
          label="Role"
          value={role}
          onChange={(e) => setRole(e.target.value)}
          sx={{ width: 160 }}
        >
          {['viewer', 'operator', 'author', 'administrator'].map((one) => (
            <MenuItem key={one} value={one}>
              {one}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          size="small"
          type="password"
          label="First password"
          autoComplete="new-password"
          value={password}
          onChange={(e) => setPassword(e.target.value)}
        />
        <TextField
          size="small"
          label="Mail, for alerts"
          value={mail}
          onChange={(e) => setMail(e.target.value)}
        />
        <Button variant="outlined" disabled={!name || busy} onClick={save}>
          Add or change
        </Button>
      </Stack>
      <Typography variant="body2" color={problem ? 'error' : 'textSecondary'} role="status">
        {problem ||
          'A first password must be replaced at the next sign-in; without one only the role changes.'}
      </Typography>
    </Stack>
  );
}
