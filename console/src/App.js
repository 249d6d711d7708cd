import { jsx as _jsx, jsxs as _jsxs } from "react/jsx-runtime";
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
function preferredMode() {
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
    return (_jsxs(ThemeProvider, { theme: theme, children: [_jsx(CssBaseline, {}), _jsx(Door, { dark: mode === 'dark', onDark: toggle })] }));
}
function Door({ dark, onDark }) {
    const queries = useQueryClient();
    const me = useQuery({
        queryKey: ['me'],
        queryFn: () => body(api.GET('/api/v1/session')),
        retry: false,
        refetchInterval: 60_000,
    });
    const heard = useLiveChanges(me.isSuccess);
    if (me.error instanceof Refusal && me.error.status === 401) {
        return _jsx(SignInPage, { onSignedIn: () => queries.invalidateQueries() });
    }
    if (!me.data) {
        return _jsx(Waiting, { error: me.error, what: "The console" });
    }
    const signOut = async () => {
        await api.DELETE('/api/v1/session');
        queries.clear();
        await queries.invalidateQueries();
        window.location.assign('/');
    };
    return (_jsx(Frame, { person: me.data.name, role: me.data.role, heard: heard, dark: dark, onDark: onDark, onSignOut: signOut, children: _jsxs(Routes, { children: [_jsx(Route, { path: "/", element: _jsx(TodayPage, { today: me.data.businessDate }) }), _jsx(Route, { path: "/runs", element: _jsx(RunsPage, { today: me.data.businessDate, mayAct: me.data.role !== 'viewer' }) }), _jsx(Route, { path: "/capacity", element: _jsx(CapacityPage, { mayAct: me.data.role !== 'viewer' }) }), _jsx(Route, { path: "/runs/:id", element: _jsx(RunPage, { mayAct: me.data.role !== 'viewer' }) }), _jsx(Route, { path: "/alerts", element: _jsx(AlertsPage, { mayAct: me.data.role !== 'viewer' }) }), _jsx(Route, { path: "/hosts", element: _jsx(HostsPage, { mayAct: me.data.role !== 'viewer' }) }), _jsx(Route, { path: "/calendars", element: _jsx(CalendarsPage, {}) }), _jsx(Route, { path: "/rules", element: _jsx(RulesPage, {}) }), _jsx(Route, { path: "/streams", element: _jsx(StreamsPage, {}) }), _jsx(Route, { path: "/streams/*", element: _jsx(StreamPage, { mayAct: me.data.role !== 'viewer' }) }), _jsx(Route, { path: "/month", element: _jsx(MonthPage, {}) }), _jsx(Route, { path: "/changes", element: _jsx(ChangesPage, { mayPublish: ['author', 'administrator'].includes(me.data.role) }) }), _jsx(Route, { path: "*", element: _jsx(Notice, { title: "There is no such page", text: "The pages are named above." }) })] }) }));
}
