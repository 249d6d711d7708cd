import { jsx as _jsx, jsxs as _jsxs } from "react/jsx-runtime";
import { Box, Button, Paper, Stack, Typography } from '@mui/material';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams, useSearchParams } from 'react-router';
import { api, body, Refusal } from '../../api/client';
import { useNow } from '../../api/live';
import { Notice, Waiting } from '../../parts/Notice';
import { clock } from '../../parts/time';
import { mono } from '../../theme';
import { PausedMark } from './PausedMark';
import { streamAddress } from './address';
import { StreamDay } from './StreamDay';
import { StreamDialog } from './StreamDialog';
/** A stream: what it is for, its schedule, its next starts with their reasons, its windows. */
export function StreamPage({ mayAct }) {
    const name = useParams()['*'] ?? '';
    const [asking, setAsking] = useState('');
    const queries = useQueryClient();
    const stream = useQuery({
        queryKey: ['streams', name],
        queryFn: () => body(api.GET('/api/v1/streams/one', { params: { query: { stream: name } } })),
        retry: false,
    });
    if (stream.error instanceof Refusal && stream.error.status === 404) {
        return _jsx(Step, { path: name, mayAct: mayAct });
    }
    if (!stream.data) {
        return _jsx(Waiting, { error: stream.error, what: "The stream" });
    }
    const one = stream.data;
    return (_jsxs(Stack, { sx: { gap: 2 }, children: [_jsxs(Stack, { direction: "row", sx: { alignItems: 'flex-start', gap: 2 }, children: [_jsxs(Box, { sx: { flex: 1 }, children: [_jsx(Typography, { variant: "h1", children: one.title }), _jsxs(Typography, { color: "textSecondary", children: [one.stream, " \u00B7 ", one.department, " \u00B7 ", one.jobs, " ", one.jobs === 1 ? 'job' : 'jobs', one.about && ` · ${one.about}`] }), one.schedule.map((entry) => (_jsx(Typography, { sx: { fontFamily: mono, fontSize: '0.9rem', mt: 0.5 }, children: entry }, entry))), _jsx(Typography, { variant: "body2", color: "textSecondary", sx: { mt: 0.4 }, children: one.schedule.length === 0
                                    ? 'It has no schedule: people start it.'
                                    : `Business days are those of ${one.calendar || 'Monday to Friday'}.` })] }), one.pause && (_jsxs(Box, { sx: { textAlign: 'right', maxWidth: 330 }, children: [_jsx(PausedMark, { pause: one.pause }), _jsxs(Typography, { variant: "body2", color: "textSecondary", sx: { mt: 0.5 }, children: ["by ", one.pause.who, one.pause.reason && `: ${one.pause.reason}`] })] })), mayAct && one.schedule.length > 0 && (_jsx(Button, { variant: "outlined", onClick: () => setAsking(one.pause ? 'resume' : 'pause'), children: one.pause ? 'Resume' : 'Pause' })), mayAct && one.windows && (_jsx(Button, { variant: "outlined", onClick: () => setAsking('fill'), children: "Fill in windows" }))] }), _jsx(StreamDay, { stream: name, mayAct: mayAct }), one.windows && _jsx(Windows, { stream: name }), one.schedule.length > 0 && _jsx(NextStarts, { stream: one }), one.schedule.length > 0 && (_jsxs(Typography, { variant: "body2", color: "textSecondary", children: ["To see its starts in a calendar program, subscribe to", ' ', _jsx(Box, { component: "span", sx: { fontFamily: mono }, children: `${window.location.origin}/api/v1/streams/feed?stream=${one.stream}` }), ' ', "with your name, and a token as the password."] })), asking && (_jsx(StreamDialog, { kind: asking, stream: one, onClose: () => setAsking(''), onDone: () => queries.invalidateQueries({ queryKey: ['streams'] }) }))] }));
}
/** A stream as a step of another one uses it, with the way back. */
function Step({ path, mayAct }) {
    const [address] = useSearchParams();
    const above = path.slice(0, Math.max(path.lastIndexOf('/'), 0));
    return (_jsxs(Stack, { sx: { gap: 2 }, children: [_jsxs(Box, { children: [_jsx(Typography, { variant: "body2", children: _jsxs(Link, { to: `${streamAddress(above)}?${address}`, style: { color: 'inherit' }, children: ["\u2190 ", above] }) }), _jsx(Typography, { variant: "h1", children: path.slice(path.lastIndexOf('/') + 1) }), _jsxs(Typography, { color: "textSecondary", children: [path, ", a stream that runs as a step"] })] }), _jsx(StreamDay, { stream: path, mayAct: mayAct })] }));
}
const shifts = {
    skipped: 'the clock skips this time: at the first instant after it',
    twice: 'the clock shows this time twice: the first time',
};
function NextStarts({ stream }) {
    const now = useNow(30_000);
    const [count, setCount] = useState(12);
    const next = useQuery({
        queryKey: ['streams', stream.stream, 'next', count],
        queryFn: () => body(api.GET('/api/v1/streams/next', {
            params: { query: { stream: stream.stream, count } },
        })),
        refetchInterval: 60_000,
    });
    if (!next.data) {
        return _jsx(Waiting, { error: next.error, what: "Next starts" });
    }
    if (next.data.length === 0) {
        return (_jsx(Notice, { title: "No coming start", text: "Its schedule picks no day in the next two years." }));
    }
    return (_jsxs(Paper, { children: [_jsx(Typography, { variant: "h2", sx: { px: 2, pt: 1.5, pb: 0.5 }, children: stream.pause ? 'Next starts, were it not paused' : 'Next starts' }), next.data.map((start) => (_jsxs(Box, { sx: {
                    display: 'grid',
                    gridTemplateColumns: '150px 160px 90px 1fr',
                    gap: 2,
                    px: 2,
                    py: 0.7,
                    borderTop: '1px solid',
                    borderColor: 'divider',
                    opacity: start.guess ? 0.75 : 1,
                }, children: [_jsxs(Typography, { sx: { fontWeight: 600 }, children: [start.date, " #", start.number] }), _jsx(Typography, { children: clock(start.at, now, false) }), _jsxs(Typography, { color: "textSecondary", children: [start.runs, " ", start.runs === 1 ? 'run' : 'runs'] }), _jsxs(Typography, { variant: "body2", color: "textSecondary", sx: { alignSelf: 'center' }, children: [start.guess && _jsx("b", { children: "a guess \u00B7 " }), start.shift && _jsxs("b", { children: [shifts[start.shift] ?? start.shift, " \u00B7 "] }), start.windowStart
                                ? `window from ${clock(start.windowStart, now, false)} to ${clock(start.windowEnd, now, false)}`
                                : start.reason] })] }, `${start.date}#${start.number}`))), count < 200 && next.data.length === count && (_jsx(Button, { onClick: () => setCount(count * 4), sx: { m: 1 }, children: "More" }))] }));
}
function Windows({ stream }) {
    const now = useNow(30_000);
    const windows = useQuery({
        queryKey: ['streams', stream, 'windows'],
        queryFn: () => body(api.GET('/api/v1/streams/windows', { params: { query: { stream, limit: 120 } } })),
        refetchInterval: 10_000,
    });
    if (!windows.data) {
        return _jsx(Waiting, { error: windows.error, what: "Windows" });
    }
    const count = (state) => windows.data.filter((one) => one.state === state).length;
    return (_jsxs(Paper, { sx: { p: 2 }, children: [_jsxs(Typography, { variant: "h2", children: ["Windows: ", count('done'), " done, ", count('open'), " open, ", count('failed'), " failed"] }), _jsxs(Typography, { variant: "body2", color: "textSecondary", sx: { mb: 1 }, children: ["The last ", windows.data.length, ", oldest first. Each leads to its run."] }), _jsx(Box, { sx: { display: 'flex', flexWrap: 'wrap', gap: '4px' }, children: [...windows.data].reverse().map((one) => {
                    const future = Date.parse(one.end ?? '') > now;
                    const state = one.state === 'done' ? 'succeeded' : one.state === 'failed' ? 'failed' : 'waiting';
                    const text = `${one.date}#${one.number}, ${clock(one.start, now, false)} to ${clock(one.end, now, false)}: ${future ? 'to come' : one.state}`;
                    return (_jsx(Box, { component: Link, to: `/runs/${one.runs[0]?.id ?? ''}`, title: text, "aria-label": text, sx: (t) => ({
                            width: 26,
                            height: 24,
                            display: 'grid',
                            placeItems: 'center',
                            borderRadius: '5px',
                            fontSize: '0.78rem',
                            fontWeight: 700,
                            textDecoration: 'none',
                            color: t.states[future ? 'planned' : state].text,
                            background: t.states[future ? 'planned' : state].fill,
                            border: `1.5px ${future ? 'dashed' : 'solid'} ${t.states[future ? 'planned' : state].edge}`,
                        }), children: one.state === 'done' ? '✓' : one.state === 'failed' ? '!' : future ? '·' : '…' }, `${one.date}#${one.number}`));
                }) })] }));
}
