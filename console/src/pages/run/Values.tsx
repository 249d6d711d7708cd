import { Box, Paper, Typography } from '@mui/material';
import { useState } from 'react';
import { Link } from 'react-router';
import type { Schemas } from '../../api/client';
import { chart, type Point } from './chart';

type Value = Schemas['ValueView'];

const WIDTH = 760;
const HEIGHT = 92;

/** What the run handed back; numbers as a line over earlier runs. */
export function Values({ run, values }: { run: number; values: Value[] }) {
  const names = [...new Set(values.map((one) => one.name))].sort();
  if (names.length === 0) {
    return null;
  }
  return (
    <Paper sx={{ p: 2 }}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        Handed back
      </Typography>
      {names.map((name) => (
        <OneValue key={name} name={name} run={run} all={values.filter((v) => v.name === name)} />
      ))}
    </Paper>
  );
}

function OneValue({ name, run, all }: { name: string; run: number; all: Value[] }) {
  const [near, setNear] = useState<Point | null>(null);
  const own = all.find((one) => one.run === run);
  const points = chart(all, WIDTH, HEIGHT);
  return (
    <Box sx={{ py: 0.5 }}>
      <Typography variant="body2">
        <b>{name}</b> {own ? own.value : 'none from this run yet'}
        <Typography component="span" variant="body2" color="textSecondary">
          {near && ` · ${near.value.value} on ${near.value.reference}`}
        </Typography>
      </Typography>
      {points.length > 1 && (
        <svg
          viewBox={`-8 -8 ${WIDTH + 16} ${HEIGHT + 16}`}
          width="100%"
          height={HEIGHT}
          role="img"
          aria-label={`${name} over the last ${points.length} runs`}
        >
          <polyline
            points={points.map((p) => `${p.x},${p.y}`).join(' ')}
            fill="none"
            stroke="currentColor"
            strokeWidth={1.5}
            opacity={0.5}
          />
          {points.map((point) => (
            <Link key={point.value.run} to={`/runs/${point.value.run}`}>
              <circle
                cx={point.x}
                cy={point.y}
                r={point.value.run === run ? 6 : 3.5}
                fill={point.value.run === run ? '#c99a3a' : 'currentColor'}
                onMouseEnter={() => setNear(point)}
                onFocus={() => setNear(point)}
              >
                <title>{`${point.value.reference}: ${point.value.value}`}</title>
              </circle>
            </Link>
          ))}
        </svg>
      )}
    </Box>
  );
}
