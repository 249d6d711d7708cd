import { jsxs as _jsxs, jsx as _jsx } from "react/jsx-runtime";
import { Box, Button, Paper, Typography } from '@mui/material';
import { useState } from 'react';
import { clock } from '../../parts/time';
const FEW = 6;
const moved = { mark: '→', state: 'waiting' };
const marks = {
    gained: { mark: '+', state: 'running' },
    lost: { mark: '−', state: 'failed' },
};
/** What a change does to the starts of one stream, date by date, each with its reason. */
export function StreamChanges({ stream, now }) {
    const [all, setAll] = useState(false);
    const counts = ['gained', 'lost', 'moved']
        .filter((what) => stream[what] > 0)
        .map((what) => `${stream[what]} ${what}`)
        .join(', ');
    const shown = all ? stream.changes : stream.changes.slice(0, FEW);
    const hidden = stream.changes.length + stream.more - shown.length;
    return (_jsxs(Paper, { sx: { p: 2 }, children: [_jsxs(Typography, { variant: "h2", children: [stream.title, ": ", counts] }), _jsxs(Typography, { variant: "body2", color: "textSecondary", sx: { mb: 0.5 }, children: [stream.stream, stream.paused && ' · it is paused then, and none of this starts yet'] }), shown.map((change) => (_jsx(Line, { change: change, now: now }, `${change.what} ${change.date} ${change.at}`))), hidden > 0 && !all && stream.changes.length > FEW && (_jsxs(Button, { size: "small", onClick: () => setAll(true), children: [hidden, " more"] })), all && stream.more > 0 && (_jsxs(Typography, { variant: "body2", children: ["and ", stream.more, " more that are not listed"] }))] }));
}
function Line({ change, now }) {
    const { mark, state } = marks[change.what] ?? moved;
    const when = change.what !== 'moved'
        ? clock(change.at, now, false)
        : change.date === change.toDate
            ? `${clock(change.at, now, false)} → ${clock(change.toAt, now, false)}`
            : `→ ${day(change.toDate)}`;
    return (_jsxs(Box, { sx: {
            display: 'grid',
            gridTemplateColumns: '30px 132px 300px 62px 1fr',
            gap: 1,
            alignItems: 'baseline',
            py: 0.3,
        }, children: [_jsx(Box, { component: "span", "aria-label": change.what, sx: (t) => ({
                    textAlign: 'center',
                    fontWeight: 800,
                    borderRadius: '5px',
                    color: t.states[state].text,
                    background: t.states[state].fill,
                }), children: mark }), _jsx(Typography, { sx: { fontWeight: 600 }, children: day(change.date) }), _jsx(Typography, { children: when }), _jsxs(Typography, { color: "textSecondary", children: [change.runs, " ", change.runs === 1 ? 'run' : 'runs'] }), _jsxs(Typography, { variant: "body2", color: "textSecondary", children: [change.guess && _jsx("b", { children: "a guess \u00B7 " }), change.shift && _jsxs("b", { children: ["clock change: ", change.shift, " \u00B7 "] }), change.reason] })] }));
}
function day(date) {
    const weekday = new Date(`${date}T00:00:00Z`).toLocaleDateString('en', {
        weekday: 'short',
        timeZone: 'UTC',
    });
    return `${date} ${weekday}`;
}
