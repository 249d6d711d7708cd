import { Box, Paper, Stack, Typography } from '@mui/material';
import { useWindowVirtualizer } from '@tanstack/react-virtual';
import { useCallback, useMemo, useState } from 'react';
import { Link } from 'react-router';
import type { Run } from '../../api/client';
import { whereabouts } from '../../parts/whereabouts';
import { StateIcon, stateName } from '../../parts/StateMark';
import { axisTime, clock, span } from '../../parts/time';
import { useMarks, type Deciding, type Marks } from './marks';
import {
  barOf,
  place,
  rowsOf,
  scaleOf,
  streamBar,
  ticks,
  zoomed,
  type Scale,
  type StreamDay,
  type StreamRow,
} from './scale';

interface TimelineProps {
  streams: StreamDay[];
  /** The business date whose promises are drawn. */
  date: string;
  now: number;
  hours: number;
  isToday: boolean;
  /** Whether each run has a row of its own, without its stream. */
  flat?: boolean;
}

type Row = { stream: StreamRow; run?: Run };

const STREAM_HEIGHT = 42;
const RUN_HEIGHT = 32;

/** Streams across the full width, labels on their bars; each opens into its runs. */
export function Timeline({ streams, date, now, hours, isToday, flat }: TimelineProps) {
  const marks = useMarks(date);
  const [open, setOpen] = useState<ReadonlySet<string>>(new Set());
  const minute = Math.floor(now / 60_000) * 60_000;
  const scale = useMemo(
    () => zoomed(scaleOf(streams, minute, flat, promisedIn(streams, marks)), hours, minute),
    [streams, hours, minute, flat, marks],
  );
  const rows: Row[] = useMemo(
    () =>
      rowsOf(streams).flatMap((stream) => {
        const runs = stream.starts.flatMap((start) => start.runs.map((run) => ({ stream, run })));
        return flat ? runs : open.has(stream.stream) ? [{ stream }, ...runs] : [{ stream }];
      }),
    [streams, open, flat],
  );
  const [margin, setMargin] = useState(0);
  const list = useCallback((node: HTMLElement | null) => {
    if (node) {
      setMargin(node.offsetTop);
    }
  }, []);
  const virtual = useWindowVirtualizer({
    count: rows.length,
    estimateSize: (index) => (rows[index]?.run ? RUN_HEIGHT : STREAM_HEIGHT),
    overscan: 12,
    scrollMargin: margin,
    getItemKey: (index) => rowKey(rows[index] as Row),
  });
  const toggle = (stream: StreamRow) => {
    const next = new Set(open);
    if (!next.delete(stream.stream)) {
      next.add(stream.stream);
    }
    setOpen(next);
  };
  return (
    <Paper sx={{ overflow: 'clip' }}>
      <Axis scale={scale} now={now} isToday={isToday} />
      {rows.some((row) => isMarked(row, marks)) && <Legend />}
      <Box ref={list} sx={{ position: 'relative', height: virtual.getTotalSize() }}>
        <Grid scale={scale} now={now} isToday={isToday} />
        {virtual.getVirtualItems().map((item) => {
          const row = rows[item.index] as Row;
          return (
            <Box
              key={item.key}
              sx={{
                position: 'absolute',
                insetInline: 0,
                top: item.start - margin,
                height: item.size,
              }}
            >
              {row.run ? (
                <RunBar
                  run={row.run}
                  marks={marks}
                  several={row.stream.starts.length > 1}
                  scale={scale}
                  now={now}
                />
              ) : (
                <StreamBars
                  row={row.stream}
                  marks={marks}
                  scale={scale}
                  now={now}
                  open={open.has(row.stream.stream)}
                  onToggle={() => toggle(row.stream)}
                />
              )}
            </Box>
          );
        })}
      </Box>
    </Paper>
  );
}

function promisedIn(streams: StreamDay[], marks: Marks): number[] {
  return streams.flatMap(marks.promisesOf).flatMap((one) => (one.by ? [Date.parse(one.by)] : []));
}

function isMarked(row: Row, marks: Marks): boolean {
  const runs = row.run ? [row.run] : row.stream.starts.flatMap((start) => start.runs);
  return (
    runs.some((run) => !run.ended && (run.finishBy || (row.run && run.latestEnd))) ||
    row.stream.starts.some((start) => marks.promisesOf(start).length > 0)
  );
}

/** What the lines mean. */
function Legend() {
  const mark = (style: object, text: string) => (
    <Stack component="span" direction="row" sx={{ alignItems: 'center', gap: 0.8 }}>
      <Box component="span" aria-hidden sx={style} />
      <Typography component="span" variant="body2" color="textSecondary">
        {text}
      </Typography>
    </Stack>
  );
  return (
    <Stack
      direction="row"
      sx={{
        flexWrap: 'wrap',
        columnGap: 3,
        px: 2,
        py: 0.6,
        borderBottom: '1px solid',
        borderColor: 'divider',
      }}
    >
      {mark({ width: 3, height: 16, bgcolor: 'error.main' }, 'promised, or to finish by')}
      {mark(
        { width: 22, borderTop: '2px solid', borderColor: 'text.secondary' },
        'nine times in ten done by then',
      )}
      {mark(
        {
          width: 18,
          height: 12,
          borderRadius: '4px',
          border: '3px solid',
          borderColor: 'secondary.main',
        },
        'decides when a promise is kept',
      )}
    </Stack>
  );
}

function rowKey(row: Row): string {
  return row.run ? `run ${row.run.id}` : row.stream.stream;
}

function Axis({ scale, now, isToday }: { scale: Scale; now: number; isToday: boolean }) {
  return (
    <Box
      sx={{
        position: 'sticky',
        top: 96,
        zIndex: 5,
        height: 30,
        background: (theme) => theme.palette.background.paper,
        borderBottom: '1px solid',
        borderColor: 'divider',
      }}
    >
      {ticks(scale)
        .filter((tick) => place(tick, scale) < 97)
        .filter((tick) => !isToday || Math.abs(place(tick, scale) + 2 - place(now, scale)) > 6)
        .map((tick) => (
          <Typography
            key={tick}
            variant="body2"
            color="textSecondary"
            sx={{ position: 'absolute', left: `calc(${place(tick, scale)}% + 5px)`, top: 5 }}
          >
            {axisTime(tick)}
          </Typography>
        ))}
      {isToday && isWithin(now, scale) && (
        <Box
          sx={{
            position: 'absolute',
            left: `clamp(40px, ${place(now, scale)}%, calc(100% - 40px))`,
            top: 4,
            transform: 'translateX(-50%)',
            px: 1,
            borderRadius: 999,
            fontSize: '0.8rem',
            fontWeight: 700,
            color: '#11293b',
            background: '#e6b655',
          }}
        >
          now {clock(new Date(now).toISOString(), now, false)}
        </Box>
      )}
    </Box>
  );
}

function isWithin(instant: number, scale: Scale): boolean {
  return instant >= scale.from && instant <= scale.to;
}

function Grid({ scale, now, isToday }: { scale: Scale; now: number; isToday: boolean }) {
  return (
    <Box aria-hidden>
      {ticks(scale).map((tick) => (
        <Box
          key={tick}
          sx={{
            position: 'absolute',
            insetBlock: 0,
            left: `${place(tick, scale)}%`,
            borderLeft: '1px solid',
            borderColor: 'divider',
          }}
        />
      ))}
      {isToday && isWithin(now, scale) && (
        <Box
          sx={{
            position: 'absolute',
            insetBlock: 0,
            left: `${place(now, scale)}%`,
            borderLeft: '2px solid #c99a3a',
            zIndex: 3,
          }}
        />
      )}
    </Box>
  );
}

interface BarProps {
  from: number;
  to: number;
  scale: Scale;
  state: string;
  likely: boolean;
  height: number;
  decides?: boolean;
}

/** A bar, at least wide enough to be seen. */
function Bar({ from, to, scale, state, likely, height, decides }: BarProps) {
  const left = Math.max(0, place(from, scale));
  const right = Math.min(100, place(to, scale));
  if (right < 0 || left > 100) {
    return null;
  }
  return (
    <Box
      sx={(theme) => {
        const colours = theme.states[stateName(state)];
        return {
          position: 'absolute',
          left: `${left}%`,
          width: `max(6px, ${right - left}%)`,
          top: (height === STREAM_HEIGHT ? 6 : 5) + 'px',
          height: height - (height === STREAM_HEIGHT ? 12 : 10),
          borderRadius: '7px',
          background: likely ? 'transparent' : colours.fill,
          border: `${decides ? 3 : 1.5}px ${likely ? 'dashed' : 'solid'} ${
            decides ? theme.palette.secondary.main : colours.edge
          }`,
        };
      }}
    />
  );
}

/** A line across a row at the time by which something must be done. */
function Deadline({ at, scale, title }: { at: string; scale: Scale; title: string }) {
  const instant = Date.parse(at);
  return isWithin(instant, scale) ? (
    <Box
      title={title}
      sx={{
        position: 'absolute',
        insetBlock: 3,
        left: `calc(${place(instant, scale)}% - 1.5px)`,
        width: 3,
        bgcolor: 'error.main',
        zIndex: 3,
      }}
    />
  ) : null;
}

function Promises({ of, scale, now }: { of: Deciding[]; scale: Scale; now: number }) {
  return of
    .filter((one) => one.by)
    .map((one) => (
      <Deadline
        key={one.reference}
        at={one.by as string}
        scale={scale}
        title={`${one.title} is promised by ${clock(one.by, now, false)}`}
      />
    ));
}

/** From the likely end to the one that holds nine times in ten. */
function Range({ from, to, scale }: { from: number; to: string; scale: Scale }) {
  const left = Math.max(0, place(from, scale));
  const right = Math.min(100, place(Date.parse(to), scale));
  return right > left ? (
    <Box
      aria-hidden
      sx={{
        position: 'absolute',
        left: `${left}%`,
        width: `${right - left}%`,
        bottom: 4,
        borderTop: '2px solid',
        borderColor: 'text.secondary',
        '&::after': {
          content: '""',
          position: 'absolute',
          right: 0,
          top: -9,
          height: 9,
          borderRight: '2px solid',
          borderColor: 'text.secondary',
        },
      }}
    />
  ) : null;
}

/** The label of a row: on its bar, and on past its end where the bar is short. */
function Label({ at, children }: { at: number; children: React.ReactNode }) {
  const right = at > 62;
  return (
    <Box
      sx={{
        position: 'absolute',
        insetBlock: 0,
        ...(right
          ? { right: `calc(${100 - at}% + 10px)` }
          : { left: `calc(${Math.max(at, 0)}% + 10px)` }),
        display: 'flex',
        alignItems: 'center',
        gap: 0.8,
        whiteSpace: 'nowrap',
        zIndex: 4,
      }}
    >
      {children}
    </Box>
  );
}

interface StreamBarsProps {
  row: StreamRow;
  marks: Marks;
  scale: Scale;
  now: number;
  open: boolean;
  onToggle: () => void;
}

/** A stream with all its starts on one line; the words are those of the one that matters most. */
function StreamBars({ row, marks, scale, now, open, onToggle }: StreamBarsProps) {
  const main = row.main;
  const runs = row.starts.reduce((sum, start) => sum + start.runs.length, 0);
  const bar = streamBar(main, now);
  const promises = row.starts.flatMap(marks.promisesOf);
  const words = streamWords(main, now) + promiseWords(promises, marks.endangers(main), now);
  return (
    <Box
      component="button"
      onClick={onToggle}
      aria-expanded={open}
      aria-label={`${main.title}, ${words}, ${counted(row.starts.length, 'start')}, ${counted(runs, 'run')}`}
      sx={{
        all: 'unset',
        display: 'block',
        position: 'relative',
        width: '100%',
        height: STREAM_HEIGHT,
        cursor: 'pointer',
        borderBottom: '1px solid',
        borderColor: 'divider',
        boxSizing: 'border-box',
        '&:hover': { background: 'rgba(127,160,180,0.10)' },
        '&:focus-visible': { outline: '3px solid #c98a13', outlineOffset: -3 },
      }}
    >
      {row.starts.map((start) => (
        <Bar
          key={`${start.date}#${start.number}`}
          {...streamBar(start, now)}
          scale={scale}
          state={start.state}
          likely={start.state === 'planned'}
          height={STREAM_HEIGHT}
          decides={marks.endangers(start).length > 0}
        />
      ))}
      {row.starts.flatMap((start) =>
        start.runs
          .filter((run) => run.finishBy && !run.ended)
          .map((run) => (
            <Deadline
              key={run.id}
              at={run.finishBy as string}
              scale={scale}
              title={`${run.title} is to finish by ${clock(run.finishBy, now, false)}`}
            />
          )),
      )}
      <Promises of={promises} scale={scale} now={now} />
      <Label at={place(bar.from, scale)}>
        <Box
          component="span"
          sx={{ display: 'flex', color: (t) => t.states[stateName(main.state)].text }}
        >
          <StateIcon state={main.state} size={18} />
        </Box>
        <Typography component="span" sx={{ fontWeight: 650 }}>
          {main.title}
        </Typography>
        {row.earlier && (
          <Typography
            component="span"
            variant="body2"
            sx={{ fontWeight: 650, px: 0.8, borderRadius: 1, border: '1px solid currentColor' }}
          >
            {row.earlier}
          </Typography>
        )}
        <Typography component="span" variant="body2" color="textSecondary">
          {row.starts.length > 1 ? `${row.starts.length} starts; #${main.number} ` : ''}
          {words}
        </Typography>
        <Typography component="span" variant="body2" color="textSecondary" aria-hidden>
          {open ? '▾' : '▸'}
        </Typography>
      </Label>
    </Box>
  );
}

/** What of a stream is promised and how that stands; and what it keeps from being kept. */
function promiseWords(promises: Deciding[], endangers: string[], now: number): string {
  const titles = new Set(promises.map((one) => one.title));
  const own = promises
    .filter((one) => one.by)
    .map((one) => `, promised ${clock(one.by, now, false)}: ${one.standing}`);
  const others = endangers.filter((title) => !titles.has(title));
  return own.slice(0, 1).join('') + (others.length > 0 ? `, decides on ${others.join(', ')}` : '');
}

function counted(many: number, what: string): string {
  return `${many} ${what}${many === 1 ? '' : 's'}`;
}

function streamWords(stream: StreamDay, now: number): string {
  const done = stream.runs.filter((run) => run.ended).length;
  const progress = `${done} of ${stream.runs.length}`;
  if (stream.ended) {
    return `${stream.state}, ended ${clock(stream.ended, now, false)}`;
  }
  const likely = stream.expectedEnd ? `, likely done ${clock(stream.expectedEnd, now, false)}` : '';
  return stream.state === 'planned'
    ? `planned ${clock(stream.due, now, false)}${likely}`
    : `${stream.state}, ${progress} done${likely}`;
}

interface RunBarProps {
  run: Run;
  marks: Marks;
  several: boolean;
  scale: Scale;
  now: number;
}

function RunBar({ run, marks, several, scale, now }: RunBarProps) {
  const bar = barOf(run, now);
  const decides = marks.decidesOn(run);
  const promises = marks.promisesAt(run);
  return (
    <Box
      component={Link}
      to={`/runs/${run.id}`}
      title={run.sentence + (decides.length > 0 ? ` It decides on: ${decides.join(', ')}.` : '')}
      sx={{
        display: 'block',
        position: 'relative',
        height: RUN_HEIGHT,
        color: 'inherit',
        textDecoration: 'none',
        background: 'rgba(127,160,180,0.06)',
        '&:hover': { background: 'rgba(127,160,180,0.16)' },
        '&:focus-visible': { outline: '3px solid #c98a13', outlineOffset: -3 },
      }}
    >
      <Bar
        {...bar}
        scale={scale}
        state={run.state}
        height={RUN_HEIGHT}
        decides={decides.length > 0}
      />
      {run.latestEnd && !run.ended && <Range from={bar.to} to={run.latestEnd} scale={scale} />}
      {run.finishBy && (
        <Deadline
          at={run.finishBy}
          scale={scale}
          title={`to finish by ${clock(run.finishBy, now, false)}`}
        />
      )}
      <Promises of={promises} scale={scale} now={now} />
      <Label at={place(bar.from, scale)}>
        <Box
          component="span"
          sx={{ display: 'flex', color: (t) => t.states[stateName(run.state)].text }}
        >
          <StateIcon state={run.state} />
        </Box>
        <Typography component="span" variant="body2" sx={{ fontWeight: 600 }}>
          {several ? `#${run.number} ${run.title}` : run.title}
        </Typography>
        <Typography component="span" variant="body2" color="textSecondary">
          {runWords(run, now)}
          {promiseWords(promises, [], now)}
        </Typography>
      </Label>
    </Box>
  );
}

function runWords(run: Run, now: number): string {
  const held = run.hold ? ', held' : '';
  const late = run.alerts.includes('late') ? ', late' : '';
  if (run.started && run.ended) {
    const took = span(Date.parse(run.ended) - Date.parse(run.started));
    return `${run.state} in ${took}${late}`;
  }
  if (run.state === 'running') {
    return `running ${whereabouts(run.host)} for ${span(now - Date.parse(run.started ?? ''))}${late}`;
  }
  const likely = run.expectedStart ? `, likely ${clock(run.expectedStart, now, false)}` : '';
  return `${run.state}${held}${late}${run.ended ? '' : likely}`;
}
