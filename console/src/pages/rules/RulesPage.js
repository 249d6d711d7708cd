import { jsx as _jsx, jsxs as _jsxs } from "react/jsx-runtime";
import { Box, Button, Chip, MenuItem, Paper, Stack, TextField, Typography } from '@mui/material';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { useSearchParams } from 'react-router';
import { api, body } from '../../api/client';
import { YearGrid } from '../../parts/YearGrid';
import { mono } from '../../theme';
import { columnOf } from './column';
const first = 'last business day of month';
const examples = [
    first,
    'business days except 1st business day of month',
    '15th day of month moved to next business day within month',
    'every 2 weeks on friday from 2026-11-06',
    '3 business days before last day of quarter',
    '2 days before easter',
    '1 november to 31 march and monday, thursday',
];
/** A day rule and its year, drawn anew at each keystroke, with the reason on each day. */
export function RulesPage() {
    const [search, setSearch] = useSearchParams();
    const [rule, setRule] = useState(search.get('rule') ?? first);
    const [calendar, setCalendar] = useState(search.get('calendar') ?? '');
    const [year, setYear] = useState(() => new Date().getFullYear());
    const [day, setDay] = useState('');
    const typed = useDeferredValue(rule);
    const calendars = useQuery({
        queryKey: ['calendars'],
        queryFn: () => body(api.GET('/api/v1/calendars')),
    });
    const days = useQuery({
        queryKey: ['calendars', 'rule', typed, calendar, year],
        queryFn: () => body(api.GET('/api/v1/days', {
            params: {
                query: {
                    rule: typed,
                    calendar,
                    from: `${year}-01-01`,
                    to: `${year}-12-31`,
                    all: true,
                },
            },
        })),
        enabled: typed.trim() !== '',
        placeholderData: keepPreviousData,
        retry: false,
    });
    const shown = useLast(days.data);
    const problem = typed.trim() === '' ? 'a rule says which days: try one of these' : days.error?.message;
    const column = days.error ? columnOf(days.error.message) : 0;
    const word = /^\S*/.exec(typed.slice(Math.max(0, column - 1)))?.[0] ?? '';
    const business = (calendars.data ?? []).filter((one) => one.kind === 'business');
    return (_jsxs(Stack, { sx: { gap: 1.5 }, children: [_jsxs(Box, { children: [_jsx(Typography, { variant: "h1", children: "Day rules" }), _jsx(Typography, { color: "textSecondary", children: "Say which days; the year below follows what you type." })] }), _jsxs(Stack, { direction: "row", sx: { gap: 1.5, alignItems: 'flex-start' }, children: [_jsx(TextField, { fullWidth: true, autoFocus: true, label: "Day rule", value: rule, error: Boolean(problem), onChange: (e) => {
                            setRule(e.target.value);
                            setSearch({ rule: e.target.value, calendar }, { replace: true });
                        }, slotProps: { htmlInput: { 'aria-describedby': 'rule-says', spellCheck: false } }, sx: { '& input': { fontFamily: mono } } }), _jsxs(TextField, { select: true, label: "Its calendar", value: calendar, onChange: (e) => setCalendar(e.target.value), sx: { minWidth: 220 }, slotProps: { select: { displayEmpty: true }, inputLabel: { shrink: true } }, children: [_jsx(MenuItem, { value: "", children: "Monday to Friday" }), business
                                .filter((one) => one.name !== 'monday-to-friday')
                                .map((one) => (_jsx(MenuItem, { value: one.name, children: one.title }, one.name)))] }), _jsxs(Button, { variant: "outlined", onClick: () => setYear(year - 1), sx: { height: 54, whiteSpace: 'nowrap', flex: 'none' }, children: ["\u2039 ", year - 1] }), _jsxs(Button, { variant: "outlined", onClick: () => setYear(year + 1), sx: { height: 54, whiteSpace: 'nowrap', flex: 'none' }, children: [year + 1, " \u203A"] })] }), _jsx(Box, { id: "rule-says", role: "status", sx: { minHeight: 26 }, children: problem ? (_jsxs(Typography, { color: "error", sx: { whiteSpace: 'pre-wrap' }, children: [column > 0 && (_jsxs(Box, { component: "span", sx: { fontFamily: mono, mr: 1 }, children: [typed.slice(0, column - 1), _jsx("b", { style: { textDecoration: 'underline wavy' }, children: word || '␣' }), typed.slice(column - 1 + word.length)] })), problem] })) : (days.data && (_jsxs(Typography, { children: [_jsxs("b", { children: [days.data.count, " ", days.data.count === 1 ? 'day' : 'days', " in ", year] }), _jsxs(Box, { component: "span", sx: { color: 'text.secondary' }, children: [` · ${days.data.rule}`, days.data.knownTo && ` · known to ${days.data.knownTo}; later days are a guess`] })] }))) }), _jsx(Stack, { direction: "row", sx: { gap: 0.8, flexWrap: 'wrap' }, children: examples.map((example) => (_jsx(Chip, { label: example, size: "small", onClick: () => setRule(example) }, example))) }), shown && (_jsx(Box, { sx: { opacity: problem ? 0.45 : 1 }, children: _jsx(YearGrid, { days: shown.days.map((one) => ({ ...one, on: one.picked, name: one.holiday })), on: "picked", off: "not picked", strong: true, onDay: setDay }) })), day && !problem && _jsx(Explained, { rule: typed, calendar: calendar, date: day })] }));
}
/** The last value that there was, while there is none. */
function useLast(value) {
    const [last, setLast] = useState(value);
    if (value !== undefined && value !== last) {
        setLast(value);
    }
    return value ?? last;
}
function Explained({ rule, calendar, date }) {
    const explained = useQuery({
        queryKey: ['calendars', 'explain', rule, calendar, date],
        queryFn: () => body(api.GET('/api/v1/days/explain', { params: { query: { rule, calendar, date } } })),
        placeholderData: keepPreviousData,
        retry: false,
    });
    if (!explained.data) {
        return null;
    }
    const weekday = new Date(`${explained.data.date}T00:00:00Z`).toLocaleDateString('en', {
        weekday: 'long',
        timeZone: 'UTC',
    });
    return (_jsxs(Paper, { "aria-live": "polite", sx: {
            px: 2,
            py: 1,
            position: 'sticky',
            bottom: 12,
            boxShadow: '0 4px 18px rgba(0,0,0,0.22)',
        }, children: [_jsxs(Typography, { variant: "h3", children: [explained.data.date, ", ", weekday, ": ", explained.data.picked ? 'picked' : 'not picked', explained.data.guess && ' (a guess)'] }), _jsx(Tree, { reason: explained.data.reason })] }));
}
function Tree({ reason }) {
    return (_jsxs(Box, { children: [_jsxs(Typography, { variant: "body2", children: [_jsx("b", { children: reason.picked ? '✓' : '✗' }), ' ', _jsx(Box, { component: "span", sx: { fontFamily: mono }, children: reason.rule }), ' ', "\u2014 ", reason.text] }), reason.below.length > 0 && (_jsx(Box, { sx: { pl: 2.2, borderLeft: '2px solid', borderColor: 'divider', ml: 0.6 }, children: reason.below.map((below, index) => (_jsx(Tree, { reason: below }, index))) }))] }));
}
