import { Box, Typography } from '@mui/material';
import { mono } from '../../theme';
import { besides } from './besides';

/** Two texts line by line, with what differs marked. */
export function SideBySide({
  before,
  after,
  titles,
}: {
  before: string;
  after: string;
  titles: [string, string];
}) {
  const lines = besides(before, after);
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: '0 12px' }}>
      {titles.map((title) => (
        <Typography key={title} variant="h3">
          {title}
        </Typography>
      ))}
      {lines.map((line, index) => (
        <Box key={index} sx={{ display: 'contents' }}>
          <CodeLine text={line.before} changed={line.changed} state="failed" />
          <CodeLine text={line.after} changed={line.changed} state="running" />
        </Box>
      ))}
    </Box>
  );
}

function CodeLine({
  text,
  changed,
  state,
}: {
  text?: string;
  changed: boolean;
  state: 'failed' | 'running';
}) {
  return (
    <Box
      component="pre"
      sx={(t) => ({
        m: 0,
        px: 0.8,
        minHeight: '1.35em',
        fontFamily: mono,
        fontSize: '0.82rem',
        whiteSpace: 'pre-wrap',
        overflowWrap: 'anywhere',
        color: changed && text !== undefined ? t.states[state].text : 'inherit',
        background: changed && text !== undefined ? t.states[state].fill : 'transparent',
        opacity: text === undefined ? 0.3 : 1,
      })}
    >
      {text}
    </Box>
  );
}
