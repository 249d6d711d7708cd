import {
  Link,
  Paper,
  Stack,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, body, type Run, type Schemas } from '../../api/client';
import { Waiting } from '../../parts/Notice';
import { mono } from '../../theme';

type Result = Schemas['ResultView'];

const shown = 200;

/** The rows that the queries of a run gave: the first of them as a table, all of them as a file. */
export function ResultsPart({ run }: { run: Run }) {
  const [chosen, setChosen] = useState<number | undefined>();
  const all = useQuery({
    queryKey: ['run', run.id, 'results'],
    queryFn: () => body(api.GET('/api/v1/runs/{id}/results', { params: { path: { id: run.id } } })),
    refetchInterval: run.ended ? false : 5_000,
  });
  if (!all.data) {
    return <Waiting error={all.error} what="Results" />;
  }
  const lastAttempt = Math.max(0, ...all.data.map((one) => one.attempt));
  const results = all.data.filter((one) => one.attempt === lastAttempt);
  const result = results.find((one) => one.number === chosen) ?? results.at(-1);
  if (!result) {
    return null;
  }
  return (
    <Paper component="section" aria-label="Results" sx={{ p: 2 }}>
      <Stack direction="row" sx={{ alignItems: 'center', gap: 2, mb: 1, flexWrap: 'wrap' }}>
        <Typography variant="h2">Result</Typography>
        {results.length > 1 && (
          <ToggleButtonGroup
            size="small"
            exclusive
            value={result.number}
            onChange={(_, number: number | null) => number && setChosen(number)}
          >
            {results.map((one) => (
              <ToggleButton key={one.number} value={one.number} aria-label={`Query ${one.number}`}>
                {one.number}
              </ToggleButton>
            ))}
          </ToggleButtonGroup>
        )}
        <Typography color="textSecondary">{many(result)}</Typography>
        <Link href={file(run, result, 'csv')}>CSV</Link>
        <Link href={file(run, result, 'json')}>JSON</Link>
      </Stack>
      <Rows run={run} result={result} />
    </Paper>
  );
}

function many(result: Result): string {
  if (!result.complete) {
    return 'still coming';
  }
  const rows = result.found === 1 ? '1 row' : `${result.found} rows`;
  return result.kept < result.found ? `${rows}, of which ${result.kept} are kept` : rows;
}

function file(run: Run, result: Result, format: string): string {
  return `/api/v1/runs/${run.id}/results/${result.number}/file?attempt=${result.attempt}&format=${format}`;
}

function Rows({ run, result }: { run: Run; result: Result }) {
  const rows = useQuery({
    queryKey: ['run', run.id, 'results', result.attempt, result.number, result.complete],
    queryFn: () =>
      body(
        api.GET('/api/v1/runs/{id}/results/{number}', {
          params: {
            path: { id: run.id, number: result.number },
            query: { attempt: result.attempt, limit: shown },
          },
        }),
      ),
  });
  if (!rows.data) {
    return <Waiting error={rows.error} what="The rows" />;
  }
  const more = result.kept - rows.data.rows.length;
  return (
    <>
      <div style={{ overflow: 'auto', maxHeight: 360 }}>
        <Table size="small" stickyHeader>
          <TableHead>
            <TableRow>
              {result.columns.map((name, index) => (
                <TableCell key={index}>{name}</TableCell>
              ))}
            </TableRow>
          </TableHead>
          <TableBody>
            {rows.data.rows.map((row, index) => (
              <TableRow key={index}>
                {row.map((cell, column) => (
                  <TableCell key={column} sx={{ fontFamily: mono, fontSize: '0.85rem' }}>
                    {cell}
                  </TableCell>
                ))}
              </TableRow>
            ))}
          </TableBody>
        </Table>
      </div>
      {more > 0 && (
        <Typography variant="body2" color="textSecondary" sx={{ mt: 1 }}>
          The first {rows.data.rows.length}; {more} more are in the file.
        </Typography>
      )}
    </>
  );
}
