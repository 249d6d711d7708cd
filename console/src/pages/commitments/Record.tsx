import { Typography, useTheme } from '@mui/material';
import type { Schemas } from '../../api/client';

type Kept = Schemas['KeptView'];

const WIDTH = 900;
const HEIGHT = 120;

/** When it was done on earlier dates, against what was promised. */
export function Record({ earlier }: { earlier: Kept[] }) {
  const theme = useTheme();
  const done = earlier.filter((one) => one.done);
  if (done.length === 0) {
    return <Typography color="textSecondary">Nothing is on record of earlier dates.</Typography>;
  }
  const promised = (one: Kept) =>
    one.by && one.done
      ? one.minutesOfDay + (Date.parse(one.by) - Date.parse(one.done)) / 60_000
      : undefined;
  const minutes = done
    .flatMap((one) => [one.minutesOfDay, promised(one)])
    .filter((one): one is number => one !== undefined);
  const low = Math.min(...minutes);
  const high = Math.max(...minutes, low + 1);
  const x = (i: number) => 60 + (i / Math.max(1, done.length - 1)) * (WIDTH - 70);
  const y = (minute: number) => HEIGHT - 14 - ((minute - low) / (high - low)) * (HEIGHT - 28);
  const kept = earlier.filter((one) => one.kept).length;
  const time = (minute: number) => {
    const all = Math.round(minute);
    const two = (n: number) => String(n).padStart(2, '0');
    const days = Math.floor(all / 1440);
    return `${two(Math.floor((all % 1440) / 60))}:${two(all % 60)}${days > 0 ? ` +${days}d` : ''}`;
  };
  return (
    <>
      <Typography>
        Kept {kept} of the last {earlier.length} times.
      </Typography>
      <svg
        role="img"
        aria-label={`Kept ${kept} of the last ${earlier.length} times`}
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        width="100%"
        style={{ maxHeight: 160 }}
      >
        <text x="0" y={y(high) + 4} fontSize="12" fill={theme.palette.text.secondary}>
          {time(high)}
        </text>
        <text x="0" y={y(low) + 4} fontSize="12" fill={theme.palette.text.secondary}>
          {time(low)}
        </text>
        <polyline
          fill="none"
          stroke={theme.palette.error.main}
          strokeWidth="2"
          points={done
            .flatMap((one, i) => {
              const by = promised(one);
              return by === undefined ? [] : [`${x(i)},${y(by)}`];
            })
            .join(' ')}
        />
        {done.map((one, i) =>
          one.kept ? (
            <circle
              key={`${one.date} ${one.number}`}
              cx={x(i)}
              cy={y(one.minutesOfDay)}
              r="3.5"
              fill={theme.states.succeeded.edge}
            >
              <title>{`${one.date}: ${time(one.minutesOfDay)}, kept`}</title>
            </circle>
          ) : (
            <path
              key={`${one.date} ${one.number}`}
              d={`M${x(i) - 4.5} ${y(one.minutesOfDay) + 4}h9l-4.5-9z`}
              fill={theme.states.failed.edge}
            >
              <title>{`${one.date}: ${time(one.minutesOfDay)}, missed`}</title>
            </path>
          ),
        )}
      </svg>
      <Typography variant="body2" color="textSecondary">
        {done[0]?.date} to {done[done.length - 1]?.date}; the line is the promise, a dot was kept, a
        triangle missed.
      </Typography>
    </>
  );
}
