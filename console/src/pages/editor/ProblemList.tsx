import { Box, Typography } from '@mui/material';
import type { Schemas } from '../../api/client';

/** What is wrong with the text, the first of it. */
export function ProblemList({
  broken,
  problems,
  checking,
}: {
  broken: string;
  problems: Schemas['ProblemView'][];
  checking: boolean;
}) {
  const shown = problems.slice(0, 4);
  return (
    <Box
      role="status"
      aria-label="What is wrong"
      sx={{ minHeight: 44, opacity: checking ? 0.7 : 1 }}
    >
      {broken && problems.length === 0 && <Typography color="error">{broken}</Typography>}
      {shown.map((one) => (
        <Typography
          key={`${one.line} ${one.column} ${one.message}`}
          variant="body2"
          color={one.severity === 'error' ? 'error' : 'textPrimary'}
        >
          <b>{one.severity}</b> line {one.line}, column {one.column}: {one.message}
        </Typography>
      ))}
      {problems.length > shown.length && (
        <Typography variant="body2">
          and {problems.length - shown.length} more, in the text
        </Typography>
      )}
      {!broken && problems.length === 0 && (
        <Typography variant="body2" color="textSecondary">
          Nothing is wrong with it.
        </Typography>
      )}
    </Box>
  );
}
