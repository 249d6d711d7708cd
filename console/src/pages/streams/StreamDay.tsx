import {
  Box,
  Button,
  Menu,
  MenuItem,
  Paper,
  Stack,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TextField,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from '@mui/material';
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { api, body, type Schemas } from '../../api/client';
import { DateField } from '../../parts/DateField';
import { useNow } from '../../api/live';
import { ActionDialog, type Change } from '../../parts/ActionDialog';
import { Notice, Waiting } from '../../parts/Notice';
import { StateMark } from '../../parts/StateMark';
import { clock } from '../../parts/time';
import { Timeline } from '../today/Timeline';
import { streamAddress } from './address';
import { Picture } from './Picture';
import { StartDialog } from './StartDialog';

type Graph = Schemas['GraphView'];

/** One start of a stream: as a picture, a table or a timeline, and what can be done with it. */
export function StreamDay({ stream, mayAct }: { stream: string; mayAct: boolean }) {
  const [address, setAddress] = useSearchParams();
  const date = address.get('date') ?? '';
  const number = Number(address.get('number') ?? 0);
  const face = address.get('as') ?? 'graph';
  const now = useNow(5_000);
  const set = (name: string, value: string) => {
    const next = new URLSearchParams(address);
    next.set(name, value);
    if (name === 'date') {
      next.delete('number');
    }
    setAddress(next, { replace: true });
  };
  const found = useQuery({
    queryKey: ['today', 'graph', stream, date, number],
    queryFn: () =>
      body(
        api.GET('/api/v1/graph', {
          params: { query: { stream, number, ...(date ? { date } : {}) } },
        }),
      ),
    placeholderData: keepPreviousData,
    refetchInterval: 10_000,
  });
  if (!found.data) {
    return <Waiting error={found.error} what="The stream" />;
  }
  const graph = found.data;
  return (
    <Paper>
      <Stack direction="row" sx={{ p: 1.5, gap: 1.5, alignItems: 'center', flexWrap: 'wrap' }}>
        <ToggleButtonGroup
          size="small"
          exclusive
          value={face}
          aria-label="Show as"
          onChange={(_, value: string | null) => value && set('as', value)}
        >
          <ToggleButton value="graph">Graph</ToggleButton>
          <ToggleButton value="table">Table</ToggleButton>
          <ToggleButton value="timeline">Timeline</ToggleButton>
        </ToggleButtonGroup>
        <DateField
          label="Business date"
          value={graph.date}
          onChange={(chosen) => chosen && set('date', chosen)}
        />
        {graph.numbers.length > 1 && (
          <TextField
            select
            size="small"
            label="Start"
            value={graph.number}
            onChange={(e) => set('number', e.target.value)}
            sx={{ width: 92 }}
          >
            {graph.numbers.map((one) => (
              <MenuItem key={one} value={one}>
                #{one}
              </MenuItem>
            ))}
          </TextField>
        )}
        {graph.state ? (
          <StateMark state={graph.state} />
        ) : (
          <Typography color="textSecondary">not planned on this date</Typography>
        )}
        {graph.stalled && (
          <Typography color="error" sx={{ fontWeight: 650 }}>
            stalled: nothing in it can move without a person
          </Typography>
        )}
        <Box sx={{ flex: 1 }} />
        {graph.succeedsIf !== 'all' && (
          <Typography variant="body2" color="textSecondary">
            succeeds if: {graph.succeedsIf}
          </Typography>
        )}
        {mayAct && <StreamActions graph={graph} />}
      </Stack>
      {face === 'table' && <Jobs graph={graph} now={now} />}
      {face === 'timeline' && <Line graph={graph} now={now} />}
      {face === 'graph' && <Picture graph={graph} key={graph.stream} />}
    </Paper>
  );
}

interface Offer {
  verb: string;
  title: string;
  change: Change;
}

/** What can be done with a whole stream, or with this start of it. */
function StreamActions({ graph }: { graph: Graph }) {
  const queries = useQueryClient();
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  const [starting, setStarting] = useState(false);
  const [asked, setAsked] = useState<{ title: string; verb: string; change: Change } | null>(null);
  const holds = useQuery({ queryKey: ['holds'], queryFn: () => body(api.GET('/api/v1/holds')) });
  const held = holds.data?.find((one) => one.kind === 'stream' && one.name === graph.stream);
  const runs = graph.nodes.flatMap((node) => (node.run && node.kind !== 'other' ? [node.run] : []));
  const offer = (verb: string, action: string, state?: string): Offer[] => {
    const some = runs.filter(
      (run) => run.actions.includes(action) && (!state || run.state === state),
    );
    return some.length === 0
      ? []
      : [
          {
            verb: `${verb} (${some.length})`,
            title: `${verb}: ${some.length} ${some.length === 1 ? 'run' : 'runs'} of this start?`,
            change: { action, runs: some.map((run) => run.id) },
          },
        ];
  };
  const offers: Offer[] = [
    {
      verb: held ? 'Release the stream' : 'Hold the stream',
      title: held
        ? `Release ${graph.title}? It was ${held.note}`
        : `Hold ${graph.title}, with all its runs to come?`,
      change: {
        action: held ? 'release' : 'hold',
        scope: { kind: 'stream', name: graph.stream },
      },
    },
    ...offer('Cancel what is open', 'cancel'),
    ...offer('Rerun what failed', 'rerun', 'failed'),
    ...offer('Skip what waits', 'skip', 'waiting'),
  ].filter((one: Offer) => one.change.scope || (one.change.runs?.length ?? 0) > 0);
  const act = async (reason: string, change: Change) => {
    if (change.scope) {
      await api.POST('/api/v1/holds', { body: { ...change, reason } });
    } else {
      await api.POST('/api/v1/actions', { body: { ...change, reason } });
    }
    await queries.invalidateQueries();
  };
  return (
    <Stack direction="row" sx={{ gap: 1 }}>
      {held && (
        <Typography variant="body2" sx={{ alignSelf: 'center', maxWidth: 260 }}>
          {held.note}
        </Typography>
      )}
      {!graph.above && (
        <Button variant="outlined" onClick={() => setStarting(true)}>
          Start
        </Button>
      )}
      <Button variant="outlined" aria-haspopup="menu" onClick={(e) => setMenu(e.currentTarget)}>
        More
      </Button>
      <Menu anchorEl={menu} open={menu !== null} onClose={() => setMenu(null)}>
        {offers.map((one) => (
          <MenuItem
            key={one.verb}
            onClick={() => {
              setMenu(null);
              setAsked(one);
            }}
          >
            {one.verb}
          </MenuItem>
        ))}
      </Menu>
      {asked && (
        <ActionDialog
          title={asked.title}
          verb={asked.verb.replace(/ \(.*/, '')}
          change={asked.change}
          onClose={() => setAsked(null)}
          onDo={act}
        />
      )}
      {starting && <StartDialog graph={graph} onClose={() => setStarting(false)} />}
    </Stack>
  );
}

function Jobs({ graph, now }: { graph: Graph; now: number }) {
  const asks = (id: string) =>
    graph.edges
      .filter((edge) => edge.to === id)
      .map(
        (edge) =>
          `${edge.alternative ? 'or ' : ''}${
            graph.nodes.find((node) => node.id === edge.from)?.label ?? edge.from
          } ${edge.label}`,
      )
      .join(', ');
  return (
    <Table size="small">
      <TableHead>
        <TableRow>
          {['State', 'Job', 'Asks for', 'Began', 'Ended', 'How it stands'].map((name) => (
            <TableCell key={name}>{name}</TableCell>
          ))}
        </TableRow>
      </TableHead>
      <TableBody>
        {graph.nodes
          .filter((node) => node.kind !== 'other' && node.kind !== 'file')
          .map((node) => (
            <TableRow key={node.id}>
              <TableCell>
                {node.run && <StateMark state={node.run.state} held={node.run.hold !== ''} />}
              </TableCell>
              <TableCell>
                <Link
                  to={
                    node.kind === 'stream'
                      ? `${streamAddress(node.id)}?date=${graph.date}&number=${graph.number}`
                      : `/runs/${node.run?.id ?? ''}`
                  }
                  style={{ color: 'inherit', fontWeight: 600 }}
                >
                  {node.title}
                </Link>
                <Typography variant="body2" color="textSecondary">
                  {node.kind === 'stream' ? 'stream · ' : ''}
                  {node.label}
                </Typography>
              </TableCell>
              <TableCell sx={{ maxWidth: 300 }}>{asks(node.id)}</TableCell>
              <TableCell>{clock(node.run?.started, now)}</TableCell>
              <TableCell>
                {node.run?.ended
                  ? clock(node.run.ended, now)
                  : node.run?.expectedEnd && `~${clock(node.run.expectedEnd, now)}`}
              </TableCell>
              <TableCell>{node.run?.sentence}</TableCell>
            </TableRow>
          ))}
      </TableBody>
    </Table>
  );
}

/** Each job as a line of its own, across the full width. */
function Line({ graph, now }: { graph: Graph; now: number }) {
  const runs = graph.nodes.flatMap((node) => (node.run && node.kind !== 'other' ? [node.run] : []));
  if (runs.length === 0) {
    return <Notice title="Nothing of it is planned on this date" text="Choose another date." />;
  }
  return (
    <Timeline
      streams={[
        {
          stream: graph.stream,
          title: graph.title,
          department: '',
          date: graph.date,
          number: graph.number,
          state: graph.state,
          stalled: graph.stalled,
          runs,
        },
      ]}
      date={graph.date}
      now={now}
      hours={0}
      isToday={runs.some((run) => !run.ended)}
      flat
    />
  );
}
