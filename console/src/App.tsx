import { CssBaseline, ThemeProvider } from '@mui/material';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { Route, Routes } from 'react-router';
import { api, body, Refusal } from './api/client';
import { useLiveChanges } from './api/live';
import { AlertsPage } from './pages/alerts/AlertsPage';
import { CalendarsPage } from './pages/calendars/CalendarsPage';
import { CapacityPage } from './pages/capacity/CapacityPage';
import { ChangesPage } from './pages/changes/ChangesPage';
import { FilesPage } from './pages/files/FilesPage';
import { HealthPage } from './pages/health/HealthPage';
import { HostsPage } from './pages/hosts/HostsPage';
import { MonthPage } from './pages/month/MonthPage';
import { RulesPage } from './pages/rules/RulesPage';
import { RunsPage } from './pages/runs/RunsPage';
import { RunPage } from './pages/run/RunPage';
import { SignInPage } from './pages/signin/SignInPage';
import { StreamPage } from './pages/streams/StreamPage';
import { StreamsPage } from './pages/streams/StreamsPage';
import { TodayPage } from './pages/today/TodayPage';
import { Frame } from './parts/Frame';
import { Notice, Waiting } from './parts/Notice';
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
      <Door dark={mode === 'dark'} onDark={toggle} />
    </ThemeProvider>
  );
}

function Door({ dark, onDark }: { dark: boolean; onDark: () => void }) {
  const queries = useQueryClient();
  const me = useQuery({
    queryKey: ['me'],
    queryFn: () => body(api.GET('/api/v1/session')),
    retry: false,
    refetchInterval: 60_000,
  });
  const heard = useLiveChanges(me.isSuccess);
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
  return (
    <Frame
      person={me.data.name}
      role={me.data.role}
      heard={heard}
      dark={dark}
      onDark={onDark}
      onSignOut={signOut}
    >
      <Routes>
        <Route path="/" element={<TodayPage today={me.data.businessDate} />} />
        <Route
          path="/runs"
          element={<RunsPage today={me.data.businessDate} mayAct={me.data.role !== 'viewer'} />}
        />
        <Route path="/capacity" element={<CapacityPage mayAct={me.data.role !== 'viewer'} />} />
        <Route path="/runs/:id" element={<RunPage mayAct={me.data.role !== 'viewer'} />} />
        <Route path="/alerts" element={<AlertsPage mayAct={me.data.role !== 'viewer'} />} />
        <Route path="/hosts" element={<HostsPage mayAct={me.data.role !== 'viewer'} />} />
        <Route
          path="/files"
          element={<FilesPage today={me.data.businessDate} mayAct={me.data.role !== 'viewer'} />}
        />
        <Route path="/health" element={<HealthPage />} />
        <Route path="/calendars" element={<CalendarsPage />} />
        <Route path="/rules" element={<RulesPage />} />
        <Route path="/streams" element={<StreamsPage />} />
        <Route path="/streams/*" element={<StreamPage mayAct={me.data.role !== 'viewer'} />} />
        <Route path="/month" element={<MonthPage />} />
        <Route
          path="/changes"
          element={<ChangesPage mayPublish={['author', 'administrator'].includes(me.data.role)} />}
        />
        <Route
          path="*"
          element={<Notice title="There is no such page" text="The pages are named above." />}
        />
      </Routes>
    </Frame>
  );
}
