import { Box, useTheme } from '@mui/material';
import { axisTime, clock } from '../../parts/time';
import type { Commitment } from './standing';

/** The span of time that a scale shows. */
export interface Span {
  from: number;
  to: number;
}

const at = (instant: string | undefined | null) => (instant ? Date.parse(instant) : undefined);

/** From the earliest to the latest time of a promise, with some room. */
export function spanOf(one: Commitment): Span {
  const times = [one.begin, one.by, one.usual, one.end, one.earliestEnd, one.latestEnd]
    .map(at)
    .filter((time): time is number => time !== undefined);
  const from = Math.min(...times);
  const to = Math.max(...times, from + 60_000);
  const room = (to - from) * 0.06;
  return { from: from - room, to: to + room };
}

/**
 * A promise on its scale: the range of its likely end, the likely end itself or when it was done, and
 * as lines the promise and the usual end. What it shows stands in the sentence beside it too.
 */
export function Scale({ one, now }: { one: Commitment; now: number }) {
  const theme = useTheme();
  const { from, to } = spanOf(one);
  const x = (instant: string | undefined | null) => {
    const time = at(instant);
    return time === undefined ? undefined : ((time - from) / (to - from)) * 100;
  };
  const by = x(one.by);
  const usual = x(one.usual);
  const end = x(one.end);
  const low = x(one.earliestEnd);
  const high = x(one.latestEnd);
  const today = now > from && now < to ? ((now - from) / (to - from)) * 100 : undefined;
  const colours = theme.states[one.standing === 'kept' ? 'succeeded' : 'running'];
  return (
    <Box sx={{ minWidth: 0 }}>
      <svg
        role="img"
        aria-label={one.sentence}
        width="100%"
        height="34"
        preserveAspectRatio="none"
        style={{ display: 'block', overflow: 'visible' }}
      >
        <line x1="0" x2="100%" y1="20" y2="20" stroke={theme.palette.divider} strokeWidth="2" />
        {today !== undefined && (
          <rect x="0" width={`${today}%`} y="19" height="2" fill={theme.palette.text.secondary} />
        )}
        {low !== undefined && high !== undefined && (
          <rect
            x={`${low}%`}
            width={`${Math.max(0.6, high - low)}%`}
            y="13"
            height="14"
            rx="5"
            fill={colours.fill}
            stroke={colours.edge}
          />
        )}
        {usual !== undefined && (
          <line
            x1={`${usual}%`}
            x2={`${usual}%`}
            y1="8"
            y2="32"
            stroke={theme.palette.text.secondary}
            strokeWidth="1.5"
            strokeDasharray="3 3"
          />
        )}
        {by !== undefined && (
          <line
            x1={`${by}%`}
            x2={`${by}%`}
            y1="4"
            y2="34"
            stroke={theme.palette.error.main}
            strokeWidth="2.5"
          />
        )}
        {end !== undefined && <circle cx={`${end}%`} cy="20" r="5" fill={colours.text} />}
      </svg>
      <Box
        sx={{
          display: 'flex',
          justifyContent: 'space-between',
          fontSize: '0.78rem',
          color: 'text.secondary',
        }}
        aria-hidden
      >
        <span>{axisTime(Date.parse(one.begin ?? ''))}</span>
        <span>{one.by ? `promised ${clock(one.by, now, false)}` : ''}</span>
      </Box>
    </Box>
  );
}
