import { Box } from '@mui/material';
import type { Schemas } from '../../api/client';

/** That a stream is paused, until when, by whom and why. */
export function PausedMark({ pause }: { pause: Schemas['PauseView'] }) {
  return (
    <Box
      component="span"
      title={`by ${pause.who}: ${pause.reason}`}
      sx={(t) => ({
        display: 'inline-flex',
        gap: 0.7,
        alignItems: 'center',
        px: 1.2,
        py: 0.2,
        borderRadius: 999,
        fontSize: '0.86rem',
        fontWeight: 600,
        color: t.states.cancelled.text,
        background: t.states.cancelled.fill,
        border: `1.5px dashed ${t.states.cancelled.edge}`,
      })}
    >
      <svg width={12} height={12} viewBox="0 0 12 12" aria-hidden>
        <path d="M2 1h3v10H2zm5 0h3v10H7z" fill="currentColor" />
      </svg>
      paused{pause.until ? ` until ${pause.until}` : ''}
    </Box>
  );
}
