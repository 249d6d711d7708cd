import { Box, Typography, useTheme } from '@mui/material';
import { Link } from 'react-router';
import type { Schemas } from '../../api/client';
import { axisTime, clock } from '../../parts/time';
import { stateName } from '../../parts/StateMark';
import type { Commitment } from './standing';

type LineageRun = Schemas['LineageRun'];

const ROW = 26;
const HEAD = 22;
const MOST = 80;

/** The runs that a promise rests on, on a timeline: who waits for whom, and the chain that decides. */
export function Lineage({ runs, one, now }: { runs: LineageRun[]; one: Commitment; now: number }) {
  const theme = useTheme();
  const shown = runs.filter((run) => run.start).slice(0, MOST);
  const times = shown.flatMap((run) => [run.start, run.end]).concat([one.by, one.usual]);
  const known = times.filter(Boolean).map((time) => Date.parse(time as string));
  if (known.length === 0) {
    return <Typography color="textSecondary">None of its runs has a likely time yet.</Typography>;
  }
  const from = Math.min(...known);
  const to = Math.max(...known, from + 60_000);
  const x = (time: string) => ((Date.parse(time) - from) / (to - from)) * 100;
  const place = new Map(shown.map((run, i) => [run.reference, i]));
  const height = HEAD + shown.length * ROW + 6;
  const line = (time: string | undefined | null, colour: string, dash?: string) =>
    time && (
      <line
        x1={`${x(time)}%`}
        x2={`${x(time)}%`}
        y1={HEAD - 4}
        y2={height}
        stroke={colour}
        strokeWidth={dash ? 1.5 : 2.5}
        strokeDasharray={dash}
      />
    );
  return (
    <Box
      sx={{ display: 'grid', gridTemplateColumns: { xs: '9rem 1fr', md: '20rem 1fr' }, gap: 1.5 }}
    >
      <Box sx={{ pt: `${HEAD}px`, minWidth: 0 }}>
        {shown.map((run) => (
          <Box
            key={run.reference}
            component={Link}
            to={`/runs/${run.run}`}
            title={run.reference}
            sx={{
              display: 'block',
              height: ROW,
              lineHeight: `${ROW}px`,
              overflow: 'hidden',
              textOverflow: 'ellipsis',
              whiteSpace: 'nowrap',
              fontWeight: run.decides ? 650 : 400,
              color: 'text.primary',
              textDecoration: 'none',
              '&:hover, &:focus-visible': { textDecoration: 'underline' },
            }}
          >
            {run.decides ? '▸ ' : ''}
            {run.streamTitle}: {run.title}
          </Box>
        ))}
      </Box>
      <Box sx={{ minWidth: 0, overflow: 'hidden', px: 1 }}>
        <svg width="100%" height={height} style={{ overflow: 'visible' }} aria-hidden>
          <text x="0" y="12" fontSize="12" fill={theme.palette.text.secondary}>
            {axisTime(from)}
          </text>
          <text x="100%" y="12" fontSize="12" textAnchor="end" fill={theme.palette.text.secondary}>
            {axisTime(to)}
          </text>
          {line(one.usual, theme.palette.text.secondary, '3 3')}
          {line(one.by, theme.palette.error.main)}
          {shown.flatMap((run, i) =>
            run.waitsFor.flatMap((other) => {
              const j = place.get(other);
              const before = j === undefined ? undefined : shown[j];
              if (j === undefined || !before?.end || !run.start) {
                return [];
              }
              const decides = run.decides && before.decides;
              return [
                <line
                  key={`${run.reference} ${other}`}
                  x1={`${x(before.end)}%`}
                  y1={HEAD + j * ROW + ROW / 2}
                  x2={`${x(run.start)}%`}
                  y2={HEAD + i * ROW + ROW / 2}
                  stroke={decides ? theme.palette.secondary.main : theme.palette.text.secondary}
                  strokeWidth={decides ? 2.5 : 1}
                />,
              ];
            }),
          )}
          {shown.map((run, i) => {
            const colours = theme.states[stateName(run.state)];
            const left = x(run.start as string);
            const right = run.end ? x(run.end) : 100;
            return (
              <rect
                key={run.reference}
                x={`${left}%`}
                width={`${Math.max(0.5, right - left)}%`}
                y={HEAD + i * ROW + 5}
                height={ROW - 10}
                rx="4"
                fill={colours.fill}
                stroke={run.decides ? theme.palette.secondary.main : colours.edge}
                strokeWidth={run.decides ? 2.5 : 1}
                strokeDasharray={run.over || run.state === 'running' ? undefined : '4 3'}
              >
                <title>{`${run.reference}: ${clock(run.start, now)} to ${clock(run.end, now)}`}</title>
              </rect>
            );
          })}
        </svg>
        {runs.length > shown.length && (
          <Typography variant="body2" color="textSecondary">
            {runs.length - shown.length === 1
              ? '1 more run is'
              : `${runs.length - shown.length} more runs are`}{' '}
            in the list below.
          </Typography>
        )}
      </Box>
    </Box>
  );
}
