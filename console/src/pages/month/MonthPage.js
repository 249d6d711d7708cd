import { jsx as _jsx, jsxs as _jsxs } from "react/jsx-runtime";
import { Box, Button, Paper, Stack, TextField, Typography } from '@mui/material';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, body } from '../../api/client';
import { useNow } from '../../api/live';
import { Waiting } from '../../parts/Notice';
import { localDate } from '../../parts/time';
import { weekdayOf } from '../../parts/year';
import { streamAddress } from '../streams/address';
import { firstOfMonth, holidaysOf, lengthOfMonth, monthName } from './month';
/** A month of all streams: streams down, days across; a holiday shows as a broken column. */
export function MonthPage() {
    const today = localDate(useNow(60_000));
    const [from, setFrom] = useState(() => firstOfMonth(today, 0));
    const [text, setText] = useState('');
    const days = lengthOfMonth(from);
    const month = useQuery({
        queryKey: ['streams', 'month', from],
        queryFn: () => body(api.GET('/api/v1/streams/month', { params: { query: { from, days, text: '' } } })),
        placeholderData: keepPreviousData,
    });
    if (!month.data) {
        return _jsx(Waiting, { error: month.error, what: "The month" });
    }
    const rows = month.data.streams.filter((row) => `${row.stream} ${row.title} ${row.department}`.toLowerCase().includes(text.toLowerCase()));
    const dates = month.data.streams[0]?.cells.map((cell) => cell.date) ?? [];
    const holidays = holidaysOf(rows);
    const columns = `230px repeat(${dates.length}, minmax(24px, 1fr))`;
    return (_jsxs(Stack, { sx: { gap: 1.5 }, children: [_jsxs(Stack, { direction: "row", sx: { alignItems: 'center', gap: 1.5 }, children: [_jsxs(Box, { sx: { flex: 1 }, children: [_jsx(Typography, { variant: "h1", children: monthName(from) }), _jsx(Typography, { color: "textSecondary", children: "How often each stream starts on each business date. Point at a day for the reason." })] }), _jsx(TextField, { size: "small", label: "Find a stream", value: text, onChange: (e) => setText(e.target.value) }), _jsxs(Button, { variant: "outlined", onClick: () => setFrom(firstOfMonth(from, -1)), children: ["\u2039 ", monthName(firstOfMonth(from, -1)).split(' ')[0]] }), _jsxs(Button, { variant: "outlined", onClick: () => setFrom(firstOfMonth(from, 1)), children: [monthName(firstOfMonth(from, 1)).split(' ')[0], " \u203A"] })] }), _jsx(Paper, { sx: { overflowX: 'auto', p: 1 }, children: _jsxs(Box, { role: "table", "aria-label": "Starts by stream and day", sx: { minWidth: 980 }, children: [_jsxs(Box, { role: "row", sx: { display: 'grid', gridTemplateColumns: columns }, children: [_jsx(Box, { role: "columnheader" }), dates.map((date) => (_jsx(DayHead, { date: date, today: today, holiday: holidays[date] }, date)))] }), rows.map((row) => (_jsx(StreamRow, { row: row, columns: columns }, row.stream)))] }) }), _jsx(Stack, { direction: "row", sx: { gap: 2.5, flexWrap: 'wrap' }, children: Object.entries(holidays).map(([date, name]) => (_jsxs(Typography, { variant: "body2", children: [_jsx("b", { children: Number(date.slice(8)) }), " ", name] }, date))) }), _jsx(Typography, { variant: "body2", color: "textSecondary", children: "A number: so many starts. Grey: its calendar is closed. Edged: a holiday takes the day away. Hatched: a guess, after what the calendar is known to. Dashed: paused." })] }));
}
function DayHead({ date, today, holiday }) {
    const weekend = weekdayOf(date) > 5;
    return (_jsxs(Box, { role: "columnheader", title: holiday, sx: (t) => ({
            textAlign: 'center',
            fontSize: '0.76rem',
            lineHeight: 1.25,
            pb: 0.4,
            fontWeight: holiday || date === today ? 750 : 500,
            color: holiday ? t.states.failed.text : weekend ? 'text.secondary' : 'text.primary',
            borderBottom: date === today ? '3px solid #c99a3a' : '3px solid transparent',
            background: holiday ? t.states.failed.fill : 'transparent',
            borderRadius: '5px 5px 0 0',
        }), children: [['Mo', 'Tu', 'We', 'Th', 'Fr', 'Sa', 'Su'][weekdayOf(date) - 1], _jsx("br", {}), Number(date.slice(8))] }));
}
function StreamRow({ row, columns }) {
    return (_jsxs(Box, { role: "row", sx: {
            display: 'grid',
            gridTemplateColumns: columns,
            alignItems: 'center',
            borderTop: '1px solid',
            borderColor: 'divider',
        }, children: [_jsxs(Typography, { role: "rowheader", component: Link, to: streamAddress(row.stream), noWrap: true, title: row.stream, sx: { color: 'inherit', textDecoration: 'none', fontSize: '0.88rem', fontWeight: 600 }, children: [row.title, row.paused && ' (paused)'] }), row.cells.map((cell) => (_jsx(DayCell, { cell: cell, paused: row.paused }, cell.date)))] }));
}
function DayCell({ cell, paused }) {
    const started = cell.starts > 0;
    const taken = !started && cell.holiday !== '';
    return (_jsx(Box, { role: "cell", title: `${cell.date}: ${started ? `${cell.starts} starts` : 'no start'}${cell.guess ? ', a guess' : ''}; ${cell.reason}`, sx: (t) => {
            const fill = t.states.starting.fill;
            return {
                m: '1.5px',
                height: 24,
                display: 'grid',
                placeItems: 'center',
                fontSize: '0.78rem',
                fontWeight: 650,
                borderRadius: '5px',
                color: 'text.primary',
                background: started
                    ? cell.guess
                        ? `repeating-linear-gradient(135deg, ${fill} 0 4px, transparent 4px 7px)`
                        : fill
                    : taken
                        ? t.states.failed.fill
                        : cell.closed
                            ? 'rgba(127,127,127,0.13)'
                            : 'transparent',
                border: '1.5px solid transparent',
                ...(taken && { borderColor: t.states.failed.edge }),
                ...(paused &&
                    started && { background: 'none', border: `1.5px dashed ${t.states.cancelled.edge}` }),
            };
        }, children: started ? cell.starts : '' }));
}
