import { alpha, createTheme, type Theme } from '@mui/material/styles';

/** The colours of a ferry office at night and by day: ink, paper, brass. States have hues of their
 * own, and are never told by hue alone. */
const ink = { 950: '#0b1c29', 900: '#11293b', 800: '#183850', 700: '#22506e', 500: '#4b7c97' };
const paper = { 50: '#fbf9f4', 100: '#f3efe5', 200: '#e6dfd0', 300: '#cfc5b1' };

export type StateName =
  'planned' | 'waiting' | 'starting' | 'running' | 'succeeded' | 'failed' | 'cancelled' | 'skipped';

export interface StateColours {
  fill: string;
  edge: string;
  text: string;
}

const day: Record<StateName, StateColours> = {
  planned: { fill: '#eee9dc', edge: '#a99f8a', text: '#4d4637' },
  waiting: { fill: '#f7e3b4', edge: '#a87b12', text: '#5b4104' },
  starting: { fill: '#cfe6ee', edge: '#2b7c98', text: '#0d4357' },
  running: { fill: '#9fd0e2', edge: '#17708f', text: '#07374a' },
  succeeded: { fill: '#d9e3dc', edge: '#5d7f6b', text: '#24402f' },
  failed: { fill: '#efc4dc', edge: '#98246a', text: '#5f0f3f' },
  cancelled: { fill: '#dfdce4', edge: '#6e6680', text: '#3d3650' },
  skipped: { fill: '#f4f0e6', edge: '#a99f8a', text: '#5d5544' },
};

const night: Record<StateName, StateColours> = {
  planned: { fill: '#1d3547', edge: '#5f7f93', text: '#b6c9d6' },
  waiting: { fill: '#4a3a10', edge: '#d9a93a', text: '#f6dfa4' },
  starting: { fill: '#123f50', edge: '#57b2cf', text: '#c2e6f2' },
  running: { fill: '#135a73', edge: '#6fc6e2', text: '#dcf3fb' },
  succeeded: { fill: '#1f3a2e', edge: '#7aa68d', text: '#c8dfd2' },
  failed: { fill: '#56173f', edge: '#e487bb', text: '#fbd6ea' },
  cancelled: { fill: '#322c40', edge: '#a195b8', text: '#d8d1e6' },
  skipped: { fill: '#192e3e', edge: '#5f7f93', text: '#9fb4c3' },
};

declare module '@mui/material/styles' {
  interface Theme {
    states: Record<StateName, StateColours>;
  }
  interface ThemeOptions {
    states?: Record<StateName, StateColours>;
  }
}

export function makeTheme(mode: 'light' | 'dark'): Theme {
  const light = mode === 'light';
  return createTheme({
    states: light ? day : night,
    palette: {
      mode,
      primary: { main: light ? ink[700] : '#8cc4dc' },
      secondary: { main: light ? '#8a6414' : '#e6b655' },
      error: { main: light ? '#98246a' : '#e487bb' },
      background: light
        ? { default: paper[100], paper: paper[50] }
        : { default: ink[950], paper: ink[900] },
      text: light
        ? { primary: '#1a2630', secondary: '#56606a' }
        : { primary: '#e8eef2', secondary: '#a3b6c4' },
      divider: light ? paper[200] : '#24425a',
    },
    shape: { borderRadius: 10 },
    typography: {
      fontFamily: '"Atkinson Hyperlegible Next Variable", system-ui, sans-serif',
      h1: { fontSize: '1.6rem', fontWeight: 650, letterSpacing: '-0.01em' },
      h2: { fontSize: '1.1rem', fontWeight: 650 },
      h3: { fontSize: '0.95rem', fontWeight: 650 },
      body1: { fontSize: '0.97rem' },
      body2: { fontSize: '0.88rem' },
      button: { textTransform: 'none', fontWeight: 600 },
    },
    components: {
      MuiButton: {
        defaultProps: { disableElevation: true },
        styleOverrides: { root: { borderRadius: 999, paddingInline: 16 } },
      },
      MuiPaper: {
        defaultProps: { elevation: 0 },
        styleOverrides: {
          root: ({ theme }) => ({
            backgroundImage: 'none',
            border: `1px solid ${theme.palette.divider}`,
          }),
        },
      },
      MuiCssBaseline: {
        styleOverrides: {
          ':focus-visible': {
            outline: `3px solid ${light ? '#c98a13' : '#e6b655'}`,
            outlineOffset: 2,
          },
          '@media (prefers-reduced-motion: reduce)': { '*': { animation: 'none !important' } },
        },
      },
      MuiToggleButton: {
        styleOverrides: { root: ({ theme }) => ({ color: theme.palette.text.primary }) },
      },
      MuiTableCell: {
        styleOverrides: {
          root: { borderColor: alpha(light ? ink[900] : '#ffffff', 0.1), paddingBlock: 8 },
          head: { fontWeight: 650 },
        },
      },
    },
  });
}

export const mono = '"Atkinson Hyperlegible Mono Variable", ui-monospace, monospace';
