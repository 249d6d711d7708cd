import {
  Alert,
  Button,
  FormControlLabel,
  Stack,
  Switch,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TextField,
  Typography,
} from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, body, type Schemas } from '../../api/client';
import { useNow } from '../../api/live';
import { useDoing } from '../../parts/doing';
import { Waiting } from '../../parts/Notice';
import { clock } from '../../parts/time';

type Token = Schemas['TokenLine'];

/** The tokens by which programs act for somebody; a fresh one is shown once. */
export function Tokens({ mayAdminister }: { mayAdminister: boolean }) {
  const now = useNow(60_000);
  const [all, setAll] = useState(false);
  const { act, problem } = useDoing('tokens');
  const tokens = useQuery({
    queryKey: ['tokens', all],
    queryFn: () => body(api.GET('/api/v1/tokens', { params: { query: { all } } })),
  });
  if (!tokens.data) {
    return <Waiting error={tokens.error} what="Tokens" />;
  }
  const end = (id: number) =>
    act(() => body(api.DELETE('/api/v1/tokens/{id}', { params: { path: { id } } })));
  return (
    <section aria-label="Tokens">
      <Stack direction="row" sx={{ gap: 2, alignItems: 'baseline' }}>
        <Typography variant="h2">{all ? 'Everybody’s tokens' : 'Your tokens'}</Typography>
        {mayAdminister && (
          <FormControlLabel
            control={<Switch checked={all} onChange={(e) => setAll(e.target.checked)} />}
            label="Everybody’s"
          />
        )}
      </Stack>
      <Typography color="textSecondary">
        A token lets a program act for you until it ends. One for calendar programs opens the feed
        of coming starts and nothing else.
      </Typography>
      {tokens.data.length > 0 && (
        <Table size="small">
          <TableHead>
            <TableRow>
              {['No', 'Whose', 'For', 'Opens', 'Made', 'Ends', 'Last used', ''].map((title) => (
                <TableCell key={title}>{title}</TableCell>
              ))}
            </TableRow>
          </TableHead>
          <TableBody>
            {tokens.data.map((token) => (
              <TableRow key={token.id}>
                <TableCell>{token.id}</TableCell>
                <TableCell>{token.person}</TableCell>
                <TableCell>{token.label}</TableCell>
                <TableCell>{opens(token)}</TableCell>
                <TableCell>{clock(token.created, now)}</TableCell>
                <TableCell>{token.expires ? clock(token.expires, now) : 'never'}</TableCell>
                <TableCell>{token.used ?? 'never'}</TableCell>
                <TableCell align="right">
                  <Button
                    size="small"
                    color="error"
                    aria-label={`End token ${token.id}`}
                    onClick={() => end(token.id)}
                  >
                    End
                  </Button>
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      )}
      {problem && <Typography color="error">{problem}</Typography>}
      <Fresh />
    </section>
  );
}

function opens(token: Token): string {
  if (!token.open) {
    return 'nothing: its time is up';
  }
  const both = token.scope === 'any' ? 'the API and the feed' : 'the API';
  return token.scope === 'feed' ? 'the feed' : both;
}

function Fresh() {
  const [label, setLabel] = useState('');
  const [made, setMade] = useState('');
  const { act, problem, busy } = useDoing('tokens');
  const make = (scope: string) =>
    act(async () => {
      const token = await body(api.POST('/api/v1/tokens', { body: { label, scope, days: 365 } }));
      setMade(token.token);
      setLabel('');
    });
  return (
    <Stack sx={{ gap: 1, mt: 1.5 }}>
      <Stack direction="row" sx={{ gap: 1, alignItems: 'center' }}>
        <TextField
          size="small"
          label="What it is for"
          value={label}
          onChange={(e) => setLabel(e.target.value)}
        />
        <Button variant="outlined" disabled={!label || busy} onClick={() => make('api')}>
          New token
        </Button>
        <Button variant="outlined" disabled={!label || busy} onClick={() => make('feed')}>
          New token for a calendar
        </Button>
      </Stack>
      {problem && <Typography color="error">{problem}</Typography>}
      {made && (
        <Alert severity="success" onClose={() => setMade('')}>
          Copy it now; nobody can see it again: <code>{made}</code>
        </Alert>
      )}
    </Stack>
  );
}
