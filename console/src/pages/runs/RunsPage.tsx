import {
  Box,
  Button,
  Checkbox,
  Menu,
  MenuItem,
  Paper,
  Stack,
  TextField,
  Typography,
} from '@mui/material';
import { visuallyHidden } from '@mui/utils';
import { keepPreviousData, useInfiniteQuery, useQueryClient } from '@tanstack/react-query';
import { useWindowVirtualizer } from '@tanstack/react-virtual';
import { useCallback, useEffect, useMemo, useState, type ChangeEvent } from 'react';
import { Link, useSearchParams } from 'react-router';
import { api, body, type Run } from '../../api/client';
import { DateField } from '../../parts/DateField';
import { useNow } from '../../api/live';
import { ActionDialog, type Change } from '../../parts/ActionDialog';
import { actionName } from '../../parts/actions';
import { Notice, Waiting } from '../../parts/Notice';
import { usePicking, type Picking } from '../../parts/picking';
import { StateMark } from '../../parts/StateMark';
import { clock, span } from '../../parts/time';
import { addressOf, filterOf, queryOf, type Filter } from './filter';
import { KeptFilters } from './KeptFilters';

const PAGE = 200;
const ROW = 44;
const COLUMNS = '44px 128px minmax(240px, 2fr) minmax(200px, 1.4fr) 84px 84px 84px 92px';
const STATES = [
  'planned',
  'waiting',
  'starting',
  'running',
  'succeeded',
  'failed',
  'cancelled',
  'skipped',
];

/** All runs that are like something, many selected at once for an action. */
export function RunsPage({ today, mayAct }: { today: string; mayAct: boolean }) {
  const [address, setAddress] = useSearchParams();
  const filter = useMemo(() => filterOf(address, today), [address, today]);
  const found = useInfiniteQuery({
    queryKey: ['runs', queryOf(filter)],
    queryFn: ({ pageParam }) =>
      body(
        api.GET('/api/v1/runs', {
          params: { query: { ...queryOf(filter), cursor: pageParam, limit: PAGE } },
        }),
      ),
    initialPageParam: '',
    getNextPageParam: (last) => last.next || undefined,
    placeholderData: keepPreviousData,
    refetchInterval: (query) => ((query.state.data?.pages.length ?? 0) > 3 ? false : 10_000),
  });
  const runs = useMemo(() => found.data?.pages.flatMap((page) => page.runs) ?? [], [found.data]);
  const picking = usePicking(runs);
  const change = (part: Partial<Filter>) => {
    picking.clear();
    setAddress(addressOf({ ...filter, ...part }, today), { replace: true });
  };
  const total = found.data?.pages[0]?.total ?? 0;
  return (
    <Stack sx={{ gap: 1.5 }}>
      <Stack direction="row" sx={{ alignItems: 'baseline', gap: 2 }}>
        <Typography variant="h1">Runs</Typography>
        <Typography color="textSecondary" sx={{ flex: 1 }}>
          {found.data ? `${total.toLocaleString('en')} like this` : ''}
        </Typography>
        <KeptFilters
          current={addressOf(filter, today)}
          onChoose={(kept) => {
            picking.clear();
            setAddress(kept);
          }}
        />
      </Stack>
      <Filters filter={filter} onChange={change} />
      {mayAct && <Selection runs={picking.picked} onClear={picking.clear} />}
      {!found.data ? (
        <Waiting error={found.error} what="Runs" />
      ) : runs.length === 0 ? (
        <Notice title="No run is like this" text="Take a part out of the filter above." />
      ) : (
        <Rows
          runs={runs}
          total={total}
          picking={picking}
          mayAct={mayAct}
          more={found.hasNextPage && !found.isFetchingNextPage ? found.fetchNextPage : undefined}
        />
      )}
    </Stack>
  );
}

interface FiltersProps {
  filter: Filter;
  onChange: (part: Partial<Filter>) => void;
}

function Filters({ filter, onChange }: FiltersProps) {
  return (
    <Paper
      component="section"
      aria-label="Filter"
      sx={{ p: 1.2, display: 'flex', flexWrap: 'wrap', gap: 1, alignItems: 'center' }}
    >
      <Words
        label="Name or title, with *"
        value={filter.text}
        width={196}
        onChange={(text) => onChange({ text })}
      />
      <TextField
        select
        size="small"
        label="State"
        value={filter.state}
        onChange={(e) => onChange({ state: e.target.value })}
        sx={{ width: 124 }}
        slotProps={{ inputLabel: { shrink: true }, select: { displayEmpty: true } }}
      >
        <MenuItem value="">any</MenuItem>
        <MenuItem value="waiting,starting,running">open now</MenuItem>
        {STATES.map((state) => (
          <MenuItem key={state} value={state}>
            {state}
          </MenuItem>
        ))}
      </TextField>
      <Words
        label="Stream"
        value={filter.stream}
        width={126}
        onChange={(stream) => onChange({ stream })}
      />
      <Words
        label="Department"
        value={filter.department}
        width={126}
        onChange={(department) => onChange({ department })}
      />
      <Words label="Tag" value={filter.tag} width={92} onChange={(tag) => onChange({ tag })} />
      <Words label="Host" value={filter.host} width={100} onChange={(host) => onChange({ host })} />
      <DateField
        label="From date"
        width={158}
        value={filter.date || filter.from}
        onChange={(from) => onChange({ date: '', from, to: filter.to || filter.date })}
      />
      <DateField
        label="To date"
        width={158}
        value={filter.date || filter.to}
        onChange={(to) => onChange({ date: '', from: filter.from || filter.date, to })}
      />
    </Paper>
  );
}

interface WordsProps {
  label: string;
  value: string;
  width: number;
  onChange: (value: string) => void;
}

/** A text that counts a moment after the last letter. */
function Words({ label, value, width, onChange }: WordsProps) {
  const [text, setText] = useState(value);
  const [last, setLast] = useState(value);
  if (value !== last) {
    setLast(value);
    setText(value);
  }
  useEffect(() => {
    if (text === value) {
      return undefined;
    }
    const timer = setTimeout(() => onChange(text), 300);
    return () => clearTimeout(timer);
  }, [text, value, onChange]);
  return (
    <TextField
      size="small"
      label={label}
      value={text}
      onChange={(e) => setText(e.target.value)}
      sx={{ width }}
      slotProps={{ inputLabel: { shrink: true } }}
    />
  );
}

/** What can be done to all that are selected. */
function Selection({ runs, onClear }: { runs: Run[]; onClear: () => void }) {
  const queries = useQueryClient();
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  const [action, setAction] = useState('');
  const [told, setTold] = useState<string[]>([]);
  const possible = new Map<string, number>();
  runs.forEach((run) =>
    run.actions.forEach((one) => possible.set(one, (possible.get(one) ?? 0) + 1)),
  );
  const act = async (reason: string, change: Change) => {
    const results = await body(api.POST('/api/v1/actions', { body: { ...change, reason } }));
    const refused = results.filter((one) => !one.done);
    setTold([
      `${results.length - refused.length} of ${results.length} done`,
      ...refused.slice(0, 5).map((one) => `${one.reference}: ${one.refusal}`),
    ]);
    onClear();
    await queries.invalidateQueries({ queryKey: ['runs'] });
  };
  return (
    <Stack direction="row" sx={{ gap: 1.5, alignItems: 'center', minHeight: 36 }}>
      <Typography variant="body2" color="textSecondary">
        {runs.length === 0
          ? 'Select runs to act on many at once; with Shift, all from one to another.'
          : `${runs.length} selected`}
      </Typography>
      {runs.length > 0 && (
        <>
          <Button
            size="small"
            variant="contained"
            aria-haspopup="menu"
            onClick={(e) => setMenu(e.currentTarget)}
          >
            Act on them
          </Button>
          <Button size="small" onClick={onClear}>
            Select none
          </Button>
        </>
      )}
      {told.length > 0 && runs.length === 0 && (
        <Typography variant="body2" role="status">
          {told.join('; ')}
        </Typography>
      )}
      <Menu anchorEl={menu} open={menu !== null} onClose={() => setMenu(null)}>
        {[...possible].map(([name, count]) => (
          <MenuItem
            key={name}
            onClick={() => {
              setMenu(null);
              setAction(name);
            }}
          >
            {actionName(name)} ({count} of {runs.length})
          </MenuItem>
        ))}
      </Menu>
      {action && (
        <ActionDialog
          title={`${actionName(action)}: ${runs.length} runs?`}
          verb={actionName(action)}
          change={{ action, runs: runs.map((run) => run.id) }}
          onClose={() => setAction('')}
          onDo={act}
        />
      )}
    </Stack>
  );
}

interface RowsProps {
  runs: Run[];
  total: number;
  picking: Picking<Run>;
  mayAct: boolean;
  more?: () => void;
}

function Rows({ runs, total, picking, mayAct, more }: RowsProps) {
  const now = useNow(5_000);
  const [margin, setMargin] = useState(0);
  const list = useCallback((node: HTMLElement | null) => {
    if (node) {
      setMargin(node.getBoundingClientRect().top + window.scrollY);
    }
  }, []);
  const rows = useWindowVirtualizer({
    count: runs.length,
    estimateSize: () => ROW,
    overscan: 12,
    scrollMargin: margin,
  });
  const items = rows.getVirtualItems();
  const last = items[items.length - 1]?.index ?? 0;
  useEffect(() => {
    if (more && last > runs.length - 60) {
      more();
    }
  }, [more, last, runs.length]);
  return (
    <Paper role="table" aria-label="Runs" aria-rowcount={total}>
      <Box
        role="row"
        sx={{
          display: 'grid',
          gridTemplateColumns: COLUMNS,
          gap: 1.5,
          px: 1.5,
          py: 0.5,
          alignItems: 'center',
          fontWeight: 650,
        }}
      >
        <Box role="columnheader">
          {mayAct ? (
            <Checkbox
              size="small"
              checked={picking.all}
              indeterminate={picking.some && !picking.all}
              onChange={picking.toggleAll}
              slotProps={{ input: { 'aria-label': 'Select all that are loaded' } }}
            />
          ) : (
            <span style={visuallyHidden}>Nothing to select</span>
          )}
        </Box>
        {['State', 'Run', 'How it stands', 'Due', 'Began', 'Ended', 'Host'].map((name) => (
          <Typography key={name} role="columnheader" variant="body2" sx={{ fontWeight: 650 }}>
            {name}
          </Typography>
        ))}
      </Box>
      <Box ref={list} role="rowgroup" sx={{ position: 'relative', height: rows.getTotalSize() }}>
        {items.map((item) => {
          const run = runs[item.index];
          return run ? (
            <Row
              key={run.id}
              run={run}
              now={now}
              top={item.start - rows.options.scrollMargin}
              selected={picking.isPicked(run)}
              onToggle={mayAct ? picking.toggle(run) : undefined}
            />
          ) : null;
        })}
      </Box>
    </Paper>
  );
}

interface RowProps {
  run: Run;
  now: number;
  top: number;
  selected: boolean;
  onToggle?: (event: ChangeEvent<HTMLInputElement>) => void;
}

function Row({ run, now, top, selected, onToggle }: RowProps) {
  const took =
    run.started && run.ended ? span(Date.parse(run.ended) - Date.parse(run.started)) : '';
  return (
    <Box
      role="row"
      sx={{
        position: 'absolute',
        top,
        left: 0,
        right: 0,
        height: ROW,
        display: 'grid',
        gridTemplateColumns: COLUMNS,
        gap: 1.5,
        px: 1.5,
        alignItems: 'center',
        borderTop: '1px solid',
        borderColor: 'divider',
        background: selected ? 'rgba(201,154,58,0.14)' : undefined,
        '& > *': { overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' },
      }}
    >
      <Box role="cell">
        {onToggle && (
          <Checkbox
            size="small"
            checked={selected}
            onChange={onToggle}
            slotProps={{ input: { 'aria-label': `Select ${run.reference}` } }}
          />
        )}
      </Box>
      <Box role="cell" sx={{ display: 'grid' }}>
        <StateMark state={run.state} held={run.hold !== ''} />
      </Box>
      <Box role="cell">
        <Link to={`/runs/${run.id}`} style={{ color: 'inherit', fontWeight: 600 }}>
          {run.title}
        </Link>
        <Typography variant="body2" color="textSecondary" sx={{ fontSize: '0.78rem' }} noWrap>
          {run.reference}
        </Typography>
      </Box>
      <Typography role="cell" variant="body2" title={run.sentence}>
        {run.sentence}
      </Typography>
      <Typography role="cell" variant="body2">
        {clock(run.due, now, false)}
      </Typography>
      <Typography role="cell" variant="body2">
        {clock(run.started, now, false)}
      </Typography>
      <Typography
        role="cell"
        variant="body2"
        title={run.ended || !run.ifAnswered ? took : 'if answered as usual'}
      >
        {run.ended
          ? clock(run.ended, now, false)
          : run.expectedEnd
            ? `~${clock(run.expectedEnd, now, false)}`
            : ''}
      </Typography>
      <Typography role="cell" variant="body2">
        {run.host}
      </Typography>
    </Box>
  );
}
