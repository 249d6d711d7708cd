import { CssBaseline, ThemeProvider } from '@mui/material';
import { AdapterDayjs } from '@mui/x-date-pickers/AdapterDayjs';
import { LocalizationProvider } from '@mui/x-date-pickers/LocalizationProvider';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo, useState } from 'react';
import { Route, Routes } from 'react-router';
import { api, body, Refusal } from './api/client';
import { clockOf, useLiveChanges } from './api/live';
import { SignInPage } from './pages/signin/SignInPage';
import { fetchForAuthors, pages, type Deed } from './pages/pages';
import { Frame } from './parts/Frame';
import { Notice, Waiting } from './parts/Notice';
import { clockIn } from './parts/time';
import { makeTheme } from './theme';

const THEME_KEY = 'purser-theme';

function preferredMode(): 'light' | 'dark' {
  const kept = localStorage.getItem(THEME_KEY);
  if (kept === 'light' || kept === 'dark') {
    return kept;
  }
  return window.matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light';
}

export function App() {
  const [mode, setMode] = useState(preferredMode);
  const theme = useMemo(() => makeTheme(mode), [mode]);
  const toggle = () => {
    const next = mode === 'dark' ? 'light' : 'dark';
    localStorage.setItem(THEME_KEY, next);
    setMode(next);
  };
  return (
    <ThemeProvider theme={theme}>
      <CssBaseline />
      <LocalizationProvider dateAdapter={AdapterDayjs} adapterLocale="en">
        <Console dark={mode === 'dark'} onDark={toggle} />
      </LocalizationProvider>
    </ThemeProvider>
  );
}

function Console({ dark, onDark }: { dark: boolean; onDark: () => void }) {
  const queries = useQueryClient();
  const me = useQuery({
    queryKey: ['me'],
    queryFn: async () => {
      const found = await body(api.GET('/api/v1/session'));
      clockOf(found.now);
      clockIn(found.zone);
      return found;
    },
    retry: false,
    refetchInterval: 60_000,
  });
  const heard = useLiveChanges(me.isSuccess);
  const writes = me.data?.may.includes('publish') ?? false;
  useEffect(() => {
    if (writes) {
      fetchForAuthors();
    }
  }, [writes]);
  if (me.error instanceof Refusal && me.error.status === 401) {
    return <SignInPage onSignedIn={() => queries.invalidateQueries()} />;
  }
  if (!me.data) {
    return <Waiting error={me.error} what="The console" />;
  }
  const signOut = async () => {
    await api.DELETE('/api/v1/session');
    queries.clear();
    await queries.invalidateQueries();
    window.location.assign('/');
  };
  const visitor = { today: me.data.businessDate, may: (what: Deed) => me.data.may.includes(what) };
  return (
    <Frame
      person={me.data.name}
      role={me.data.role}
      zone={me.data.zone}
      environment={me.data.environment}
      heard={heard}
      dark={dark}
      onDark={onDark}
      onSignOut={signOut}
    >
      <Routes>
        {pages.map((page) => (
          <Route key={page.path} path={page.path} element={page.element(visitor)} />
        ))}
        <Route
          path="*"
          element={<Notice title="There is no such page" text="The pages are named above." />}
        />
      </Routes>
    </Frame>
  );
}
