import { Box } from '@mui/material';
import type { StateName } from '../theme';

/** The icon of each state; the shape alone tells the states apart. */
const shapes: Record<StateName, string> = {
  planned: 'M12 5a7 7 0 1 0 0 14 7 7 0 0 0 0-14zm0 2a5 5 0 1 1 0 10 5 5 0 0 1 0-10z',
  waiting: 'M7 4h10v2l-4 6 4 6v2H7v-2l4-6-4-6zm2.4 2 2.6 4 2.6-4z',
  starting: 'M8 5.5v13l10-6.5zM10 9l4.6 3L10 15z',
  running: 'M7 4.5v15l12-7.5z',
  succeeded: 'M9.6 17.4 4.4 12.2l1.6-1.6 3.6 3.6L18 5.8l1.6 1.6z',
  failed: 'M12 3 2.5 20h19zm-1 6h2v6h-2zm0 7h2v2h-2z',
  cancelled: 'M12 4a8 8 0 1 0 0 16 8 8 0 0 0 0-16zM7 11h10v2H7z',
  skipped: 'M4 6v12l8-6zm8 0v12l8-6z',
};

export function stateName(state: string): StateName {
  return (state in shapes ? state : 'planned') as StateName;
}

export function StateIcon({ state, size = 16 }: { state: string; size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 24 24" aria-hidden style={{ flex: 'none' }}>
      <path d={shapes[stateName(state)]} fill="currentColor" fillRule="evenodd" />
    </svg>
  );
}

interface StateMarkProps {
  state: string;
  held?: boolean;
  /** Whose icon and colours it has, where the word is no state of a run. */
  look?: StateName;
}

/** A state as icon and word. */
export function StateMark({ state, held, look }: StateMarkProps) {
  const shape = look ?? stateName(state);
  return (
    <Box
      component="span"
      sx={(theme) => {
        const colours = theme.states[shape];
        return {
          display: 'inline-flex',
          alignItems: 'center',
          gap: 0.6,
          px: 1.1,
          py: 0.2,
          borderRadius: 999,
          fontSize: '0.86rem',
          fontWeight: 600,
          whiteSpace: 'nowrap',
          color: colours.text,
          background: colours.fill,
          border: `1.5px ${shape === 'skipped' ? 'dashed' : 'solid'} ${colours.edge}`,
        };
      }}
    >
      <StateIcon state={shape} />
      {state}
      {held ? ' · held' : ''}
    </Box>
  );
}
