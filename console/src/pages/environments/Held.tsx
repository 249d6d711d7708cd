import {
  Box,
  Button,
  Checkbox,
  FormControlLabel,
  Link as Away,
  Paper,
  Stack,
  TextField,
  Typography,
} from '@mui/material';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { api, body, type Schemas } from '../../api/client';
import { useNow } from '../../api/live';
import { Waiting } from '../../parts/Notice';
import { Pick } from '../../parts/Pick';
import { TextLink } from '../../parts/TextLink';
import { useDoing } from '../../parts/doing';
import { clock } from '../../parts/time';
import { Taken } from '../parcels/Taken';
import { useTaking } from '../parcels/taking';
import { columns, DifferenceRow } from './DifferenceRow';
import { inOrder, isBringable, keyOf, shown, type Difference } from './standing';

type Compared = Schemas['ComparisonView'];

const MOST_SHOWN = 200;

interface HeldProps {
  neighbour: Schemas['NeighbourView'];
  mayPublish: boolean;
}

/** Another environment, held against this one. */
export function Held({ neighbour, mayPublish }: HeldProps) {
  const { name } = neighbour;
  const queries = useQueryClient();
  const path = { path: { name } };
  const compared = useQuery({
    queryKey: ['neighbours', name, 'compared'],
    queryFn: async () => {
      const found = await body(api.GET('/api/v1/neighbours/{name}', { params: path }));
      await queries.invalidateQueries({ queryKey: ['neighbours', name, 'differences'] });
      return found;
    },
    retry: false,
  });
  const differences = useQuery({
    queryKey: ['neighbours', name, 'differences'],
    queryFn: () => body(api.GET('/api/v1/neighbours/{name}/differences', { params: path })),
    enabled: compared.isSuccess,
    retry: false,
  });
  if (compared.error) {
    return (
      <Paper sx={{ p: 2 }}>
        <Typography variant="h2">{name}</Typography>
        <Typography role="alert" color="error" sx={{ my: 1 }}>
          {compared.error.message}
        </Typography>
        <Button variant="outlined" onClick={() => void compared.refetch()}>
          Ask again
        </Button>
      </Paper>
    );
  }
  if (!compared.data) {
    return <Waiting error={null} what={name} />;
  }
  return (
    <>
      <Summary
        compared={compared.data}
        asking={compared.isFetching}
        onAsk={() => void compared.refetch()}
      />
      {differences.data && differences.data.length > 0 && (
        <List all={differences.data} neighbour={neighbour} mayPublish={mayPublish} />
      )}
    </>
  );
}

interface SummaryProps {
  compared: Compared;
  asking: boolean;
  onAsk: () => void;
}

function Summary({ compared, asking, onAsk }: SummaryProps) {
  const now = useNow(30_000);
  const { here, there } = compared;
  const counts = inOrder(compared.differences);
  return (
    <Paper sx={{ p: 2 }}>
      <Stack direction="row" sx={{ alignItems: 'baseline', gap: 2 }}>
        <Typography variant="h2" sx={{ flex: 1 }}>
          {here.environment || 'This one'}, revision {here.revision}, and{' '}
          {there.environment || compared.name}, revision {there.revision}
        </Typography>
        {there.console && (
          <Away href={there.console} target="_blank" rel="noreferrer">
            Its console
          </Away>
        )}
        <Button size="small" variant="outlined" disabled={asking} onClick={onAsk}>
          Ask again
        </Button>
      </Stack>
      <Typography role="status">
        {counts.length === 0
          ? 'All is the same on both sides'
          : counts.map(([standing, count]) => `${count} ${standing}`).join(', ')}
        {`: ${compared.alike} the same, asked ${clock(compared.looked, now)}.`}
      </Typography>
      <OnItsWay items={here.onItsWay} where="here" own />
      <OnItsWay items={there.onItsWay} where="there" />
    </Paper>
  );
}

interface OnItsWayProps {
  items: Schemas['OnItsWayView'][];
  where: string;
  own?: boolean;
}

function OnItsWay({ items, where, own }: OnItsWayProps) {
  return items.map((one) => (
    <Typography key={one.what} sx={{ mt: 0.5 }}>
      On its way {where}:{' '}
      {own && one.what.startsWith('draft ') ? (
        <TextLink to="/drafts">{one.what}</TextLink>
      ) : (
        one.what
      )}{' '}
      of {one.who}
      {one.title && `, “${one.title}”`}
      {one.definitions.length > 0 && `: ${few(one.definitions)}`}
      {one.liveFrom && `; goes live for ${one.liveFrom}`}
    </Typography>
  ));
}

function few(names: string[]): string {
  return names.length <= 3
    ? names.join(', ')
    : `${names.slice(0, 3).join(', ')} and ${names.length - 3} more`;
}

interface ListProps {
  all: Difference[];
  neighbour: Schemas['NeighbourView'];
  mayPublish: boolean;
}

function List({ all, neighbour, mayPublish }: ListProps) {
  const [text, setText] = useState('');
  const [standing, setStanding] = useState('');
  const [kind, setKind] = useState('');
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const wanted = useDeferredValue(text);
  const found = shown(all, { text: wanted, standing, kind });
  const rows = found.slice(0, MOST_SHOWN);
  const bringable = found.filter(isBringable).map(keyOf);
  const whole = bringable.length > 0 && bringable.every((one) => chosen.has(one));
  const taken = all
    .filter(isBringable)
    .map(keyOf)
    .filter((one) => chosen.has(one));
  const choose = (keys: string[], on: boolean) => {
    const next = new Set(chosen);
    keys.forEach((key) => (on ? next.add(key) : next.delete(key)));
    setChosen(next);
  };
  const choices = (values: string[]): [string, string][] => [
    ['', 'All'],
    ...[...new Set(values)].sort().map((one): [string, string] => [one, one.replace(/-/g, ' ')]),
  ];
  return (
    <Paper sx={{ p: 2 }}>
      <Stack direction="row" sx={{ gap: 1.5, alignItems: 'center', mb: 1 }}>
        {mayPublish && (
          <FormControlLabel
            control={
              <Checkbox
                checked={whole}
                indeterminate={!whole && taken.length > 0}
                onChange={(e) => choose(bringable, e.target.checked)}
              />
            }
            label={taken.length === 0 ? 'All of these' : `${taken.length} chosen`}
          />
        )}
        <TextField
          size="small"
          label="Find"
          value={text}
          onChange={(e) => setText(e.target.value)}
          sx={{ ml: 'auto' }}
        />
        <Pick
          label="How"
          value={standing}
          width={200}
          choices={choices(all.map((one) => one.standing))}
          onPick={setStanding}
        />
        <Pick
          label="Kind"
          value={kind}
          width={180}
          choices={choices(all.map((one) => one.kind))}
          onPick={setKind}
        />
      </Stack>
      {mayPublish && taken.length > 0 && (
        <Bring key={taken.join('\n')} neighbour={neighbour} definitions={taken} />
      )}
      <Box
        sx={{ display: 'grid', gridTemplateColumns: columns, gap: 1.5, color: 'text.secondary' }}
        aria-hidden
      >
        <span />
        <span />
        <span />
        <Typography variant="body2">here</Typography>
        <Typography variant="body2">there</Typography>
        <Typography variant="body2">what differs</Typography>
      </Box>
      {rows.map((one) => (
        <DifferenceRow
          key={keyOf(one)}
          one={one}
          chosen={chosen.has(keyOf(one))}
          onChoose={mayPublish ? (on) => choose([keyOf(one)], on) : undefined}
        />
      ))}
      {found.length > rows.length && (
        <Typography color="textSecondary" sx={{ mt: 1 }}>
          and {found.length - rows.length} more: narrow them down above
        </Typography>
      )}
      {found.length === 0 && <Typography>None of {all.length} is of this kind.</Typography>}
    </Paper>
  );
}

interface BringProps {
  neighbour: Schemas['NeighbourView'];
  definitions: string[];
}

/** What was chosen, packed there, looked at and taken here. */
function Bring({ neighbour, definitions }: BringProps) {
  const [withNeeds, setWithNeeds] = useState(false);
  const taking = useTaking();
  const fetching = useDoing();
  const look = () =>
    fetching.act(async () => {
      const packed = await body(
        api.POST('/api/v1/neighbours/{name}/parcel', {
          params: { path: { name: neighbour.name } },
          body: { definitions, withNeeds },
        }),
      );
      await taking.look(packed.parcel, neighbour.map);
    });
  return (
    <Stack sx={{ gap: 1.5, mb: 2 }}>
      <Stack direction="row" sx={{ gap: 2, alignItems: 'center' }}>
        <Button variant="outlined" disabled={fetching.busy} onClick={look}>
          What would bringing {definitions.length === 1 ? 'it' : `these ${definitions.length}`}{' '}
          change here?
        </Button>
        <FormControlLabel
          control={
            <Checkbox
              checked={withNeeds}
              onChange={(e) => {
                setWithNeeds(e.target.checked);
                taking.forget();
              }}
            />
          }
          label="And what they need: calendars, watches, capacities, templates"
        />
      </Stack>
      {fetching.problem && (
        <Typography role="alert" color="error">
          {fetching.problem}
        </Typography>
      )}
      <Taken taking={taking} mayPublish />
    </Stack>
  );
}
