import { jsx as _jsx, jsxs as _jsxs } from "react/jsx-runtime";
import { Box, Button, Paper, Stack, TextField, ToggleButton, ToggleButtonGroup, Typography, } from '@mui/material';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, body } from '../../api/client';
import { useNow } from '../../api/live';
import { Notice, Waiting } from '../../parts/Notice';
import { clock, span } from '../../parts/time';
import { countsSentence } from './scale';
import { Timeline } from './Timeline';
/** What needs a person on top; below it the business date as a timeline of streams. */
export function TodayPage({ today }) {
    const [chosen, setChosen] = useState('');
    const [hours, setHours] = useState(0);
    const now = useNow();
    const date = chosen || today;
    const day = useQuery({
        queryKey: ['today', date],
        queryFn: () => body(api.GET('/api/v1/today', { params: { query: { date } } })),
        placeholderData: keepPreviousData,
        refetchInterval: 15_000,
    });
    if (!day.data) {
        return _jsx(Waiting, { error: day.error, what: "The business date" });
    }
    return (_jsxs(Stack, { sx: { gap: 2.5 }, children: [_jsx(Needs, { needs: day.data.needs, now: now }), _jsxs(Stack, { direction: "row", sx: { alignItems: 'center', gap: 2 }, children: [_jsxs(Box, { sx: { flex: 1 }, children: [_jsxs(Typography, { variant: "h1", children: [date === today ? 'Today' : 'Business date', ", ", date] }), _jsx(Typography, { color: "textSecondary", children: countsSentence(day.data.counts) })] }), _jsxs(ToggleButtonGroup, { size: "small", exclusive: true, value: hours, "aria-label": "How much of the day", onChange: (_, value) => value !== null && setHours(value), children: [_jsx(ToggleButton, { value: 0, children: "Whole day" }), _jsx(ToggleButton, { value: 6, children: "6 hours" }), _jsx(ToggleButton, { value: 1, children: "1 hour" })] }), _jsx(TextField, { type: "date", size: "small", label: "Business date", value: date, onChange: (e) => setChosen(e.target.value), slotProps: { inputLabel: { shrink: true } } })] }), day.data.streams.length === 0 ? (_jsx(Notice, { title: "Nothing is planned on this date", text: "Publish definitions, or choose another business date." })) : (_jsx(Timeline, { streams: day.data.streams, now: now, hours: hours, isToday: date === today }))] }));
}
const words = {
    failed: 'Failed',
    late: 'Late',
    'long-running': 'Takes long',
    calendar: 'Calendar ends',
    approval: 'Wants an answer',
    held: 'Held',
    'likely-late': 'Likely late',
};
function Needs({ needs, now }) {
    const [all, setAll] = useState(false);
    const shown = all ? needs : needs.slice(0, 5);
    return (_jsxs(Paper, { component: "section", "aria-label": "What needs a person", sx: { overflow: 'hidden' }, children: [_jsxs(Stack, { direction: "row", sx: { px: 2, py: 1.2, alignItems: 'baseline', gap: 1.5 }, children: [_jsx(Typography, { variant: "h2", children: needs.length === 0
                            ? 'Nothing needs you'
                            : `${needs.length} ${needs.length === 1 ? 'thing needs' : 'things need'} a person` }), needs.length === 0 && (_jsx(Typography, { color: "textSecondary", children: "Everything that is due runs, or waits for something that comes by itself." })), _jsx(Box, { sx: { flex: 1 } }), needs.length > 5 && (_jsx(Button, { size: "small", onClick: () => setAll(!all), children: all ? 'Show fewer' : `Show all ${needs.length}` }))] }), shown.map((need, index) => (_jsxs(Box, { component: Link, to: need.run ? `/runs/${need.run}` : '/calendars', sx: {
                    display: 'grid',
                    gridTemplateColumns: '150px minmax(300px, 27%) 1fr 150px',
                    gap: 2,
                    alignItems: 'baseline',
                    px: 2,
                    py: 0.9,
                    color: 'inherit',
                    textDecoration: 'none',
                    borderTop: '1px solid',
                    borderColor: 'divider',
                    '&:hover': { background: 'action.hover' },
                }, children: [_jsx(Typography, { sx: (theme) => ({
                            fontWeight: 700,
                            borderLeft: `4px solid ${theme.states[need.kind === 'failed' ? 'failed' : 'waiting'].edge}`,
                            pl: 1.2,
                        }), children: words[need.kind] ?? need.kind }), _jsx(Typography, { sx: { fontWeight: 600 }, children: need.title }), _jsx(Typography, { variant: "body2", children: need.text }), _jsx(Typography, { variant: "body2", color: "textSecondary", sx: { textAlign: 'right' }, children: need.since
                            ? `${clock(need.since, now, false)}, ${span(now - Date.parse(need.since))} ago`
                            : '' })] }, `${need.kind} ${need.run} ${index}`)))] }));
}
