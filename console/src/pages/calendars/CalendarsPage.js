import { jsx as _jsx, jsxs as _jsxs, Fragment as _Fragment } from "react/jsx-runtime";
import { Box, Button, MenuItem, Stack, TextField, Typography } from '@mui/material';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, body } from '../../api/client';
import { useNow } from '../../api/live';
import { Notice, Waiting } from '../../parts/Notice';
import { clock } from '../../parts/time';
import { YearGrid } from '../../parts/YearGrid';
/** A calendar's year: every day, open or closed, holidays by their names, and how far it is good. */
export function CalendarsPage() {
    const [chosen, setChosen] = useState('');
    const [year, setYear] = useState(() => new Date().getFullYear());
    const calendars = useQuery({
        queryKey: ['calendars'],
        queryFn: () => body(api.GET('/api/v1/calendars')),
    });
    const name = chosen ||
        calendars.data?.find((one) => one.kind === 'business' && one.builtOn.length > 0)?.name ||
        calendars.data?.[0]?.name ||
        '';
    const days = useQuery({
        queryKey: ['calendars', name, year],
        queryFn: () => body(api.GET('/api/v1/calendars/{name}/years/{year}', { params: { path: { name, year } } })),
        enabled: name !== '',
        placeholderData: keepPreviousData,
    });
    if (!calendars.data || !days.data) {
        return _jsx(Waiting, { error: calendars.error ?? days.error, what: "Calendars" });
    }
    const calendar = calendars.data.find((one) => one.name === name);
    const open = days.data.days.filter((day) => day.open).length;
    return (_jsxs(Stack, { sx: { gap: 2 }, children: [_jsxs(Stack, { direction: "row", sx: { alignItems: 'center', gap: 1.5 }, children: [_jsxs(Box, { sx: { flex: 1 }, children: [_jsxs(Typography, { variant: "h1", children: [calendar?.title ?? name, ", ", year] }), _jsxs(Typography, { color: "textSecondary", children: [days.data.kind === 'business'
                                        ? `${open} working days; built on ${calendar?.builtOn.join(' and ') || 'no calendar'}`
                                        : `${days.data.days.length - open} holidays`, calendar && _jsx(Facts, { calendar: calendar })] })] }), _jsx(TextField, { select: true, size: "small", label: "Calendar", value: name, onChange: (e) => setChosen(e.target.value), sx: { minWidth: 230 }, children: calendars.data.map((one) => (_jsx(MenuItem, { value: one.name, children: one.title }, `${one.kind} ${one.name}`))) }), _jsxs(Button, { variant: "outlined", onClick: () => setYear(year - 1), "aria-label": "Year before", children: ["\u2039 ", year - 1] }), _jsxs(Button, { variant: "outlined", onClick: () => setYear(year + 1), "aria-label": "Year after", children: [year + 1, " \u203A"] }), _jsx(Button, { variant: "text", href: `/api/v1/calendars/${encodeURIComponent(name)}/export?from=${year}-01-01&to=${year}-12-31`, children: "As .ics" })] }), days.data.days.length === 0 ? (_jsx(Notice, { title: "No days", text: "This year cannot be shown." })) : (_jsx(YearGrid, { days: days.data.days.map((day) => ({ ...day, on: day.open })), on: "open", off: "closed" }))] }));
}
/** How far it is good, where it comes from, who looks at it. */
function Facts({ calendar }) {
    const now = useNow(60_000);
    const used = calendar.usedBy.length;
    return (_jsxs(_Fragment, { children: [calendar.knownTo && (_jsx("b", { children: ` · known to ${calendar.knownTo}; later days are a guess (hatched)` })), used > 0 && ` · used by ${used === 1 ? calendar.usedBy[0] : `${used} streams`}`, calendar.source &&
                ` · fetched from ${calendar.source} ${clock(calendar.fetched, now, false)}`, calendar.fetchError && (_jsx(Typography, { component: "span", color: "error", children: ` · cannot be fetched now: ${calendar.fetchError}` }))] }));
}
