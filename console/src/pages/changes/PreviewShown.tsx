import { Box, Paper, Stack, Typography } from '@mui/material';
import { type Schemas } from '../../api/client';
import { useNow } from '../../api/live';
import { OpenRuns } from './OpenRuns';
import { SideBySide } from './SideBySide';
import { StreamChanges } from './StreamChanges';

type Preview = Schemas['PreviewView'];

/** What publishing would do: runs, promises, and each definition side by side. */
export function PreviewShown({ preview }: { preview: Preview }) {
  const now = useNow(60_000);
  return (
    <Stack sx={{ gap: 1.5 }} aria-live="polite">
      {preview.problems.map((one) => (
        <Typography
          key={`${one.file}:${one.line}:${one.column}:${one.message}`}
          color={one.severity === 'error' ? 'error' : undefined}
        >
          <b>{one.severity}</b> {one.file}, line {one.line}, column {one.column}: {one.message}
        </Typography>
      ))}
      {!preview.sound ? (
        <Typography variant="h2">These files are not sound: they cannot be published.</Typography>
      ) : preview.definitions.length === 0 ? (
        <Typography variant="h2">Nothing would change: all is in force as it is.</Typography>
      ) : (
        <>
          <Totals preview={preview} />
          {preview.touched.map((run) => (
            <Typography key={run.reference} color="warning">
              <b>{run.reference}</b> {run.what}
            </Typography>
          ))}
          <OpenRuns open={preview.open} more={preview.moreOpen} />
          {preview.promises.map((promise) => (
            <Typography key={promise}>
              <b>Promise</b> {promise}
            </Typography>
          ))}
          {preview.streams.map((stream) => (
            <StreamChanges key={stream.stream} stream={stream} now={now} />
          ))}
          {preview.definitions.map((definition) => (
            <Paper key={`${definition.kind} ${definition.name}`} sx={{ p: 2 }}>
              <Typography variant="h2" sx={{ mb: 1 }}>
                {definition.kind} {definition.name}: {definition.action}
              </Typography>
              <SideBySide
                before={definition.before}
                after={definition.after}
                titles={['in force', 'after publishing']}
              />
            </Paper>
          ))}
        </>
      )}
    </Stack>
  );
}

function Totals({ preview }: { preview: Preview }) {
  const totals: [string, number, 'running' | 'failed' | 'waiting'][] = [
    ['gained', preview.gained, 'running'],
    ['lost', preview.lost, 'failed'],
    ['moved', preview.moved, 'waiting'],
  ];
  return (
    <Stack direction="row" sx={{ gap: 1.5, alignItems: 'center' }}>
      {totals.map(([word, count, state]) => (
        <Box
          key={word}
          sx={(t) => ({
            px: 2,
            py: 0.8,
            borderRadius: 2,
            fontWeight: 700,
            opacity: count === 0 ? 0.55 : 1,
            color: t.states[state].text,
            background: t.states[state].fill,
            border: `1.5px solid ${t.states[state].edge}`,
          })}
        >
          {count} {count === 1 ? 'run' : 'runs'} {word}
        </Box>
      ))}
      <Typography color="textSecondary">
        from {preview.from} to {preview.to}, against revision {preview.revision}
      </Typography>
    </Stack>
  );
}
