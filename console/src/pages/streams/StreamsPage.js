import { jsx as _jsx, jsxs as _jsxs, Fragment as _Fragment } from "react/jsx-runtime";
import { Box, Paper, Stack, TextField, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, body } from '../../api/client';
import { useNow } from '../../api/live';
import { Notice, Waiting } from '../../parts/Notice';
import { clock } from '../../parts/time';
import { PausedMark } from './PausedMark';
import { streamAddress } from './address';
/** All streams: when each starts, and which are paused. */
export function StreamsPage() {
    const now = useNow(10_000);
    const [text, setText] = useState('');
    const streams = useQuery({
        queryKey: ['streams'],
        queryFn: () => body(api.GET('/api/v1/streams')),
        refetchInterval: 30_000,
    });
    if (!streams.data) {
        return _jsx(Waiting, { error: streams.error, what: "Streams" });
    }
    const paused = streams.data.filter((stream) => stream.pause).length;
    const shown = streams.data.filter((stream) => `${stream.stream} ${stream.title} ${stream.department}`
        .toLowerCase()
        .includes(text.toLowerCase()));
    return (_jsxs(Stack, { sx: { gap: 2 }, children: [_jsxs(Stack, { direction: "row", sx: { alignItems: 'center' }, children: [_jsxs(Box, { sx: { flex: 1 }, children: [_jsx(Typography, { variant: "h1", children: "Streams" }), _jsxs(Typography, { color: "textSecondary", children: [streams.data.length, " streams", paused > 0 && `, ${paused} paused`] })] }), _jsx(TextField, { size: "small", label: "Find", value: text, onChange: (e) => setText(e.target.value), sx: { minWidth: 260 } })] }), shown.length === 0 ? (_jsx(Notice, { title: "No stream", text: "None has this in its name, title or department." })) : (_jsx(Paper, { children: shown.map((stream) => (_jsx(Row, { stream: stream, now: now }, stream.stream))) }))] }));
}
function Row({ stream, now }) {
    return (_jsxs(Box, { component: Link, to: streamAddress(stream.stream), sx: {
            display: 'grid',
            gridTemplateColumns: '310px 1fr 210px',
            gap: 2,
            alignItems: 'center',
            px: 2,
            py: 1.1,
            color: 'inherit',
            textDecoration: 'none',
            borderBottom: '1px solid',
            borderColor: 'divider',
            '&:hover': { background: 'rgba(127,127,127,0.08)' },
        }, children: [_jsxs(Box, { children: [_jsx(Typography, { sx: { fontWeight: 600 }, children: stream.title }), _jsx(Typography, { variant: "body2", color: "textSecondary", children: stream.stream })] }), _jsxs(Box, { sx: { minWidth: 0 }, children: [stream.schedule.length === 0 && (_jsx(Typography, { variant: "body2", color: "textSecondary", children: "started by people" })), stream.schedule.map((entry) => (_jsx(Typography, { variant: "body2", noWrap: true, title: entry, children: entry }, entry)))] }), _jsx(Box, { sx: { textAlign: 'right' }, children: stream.pause ? (_jsx(PausedMark, { pause: stream.pause })) : (stream.next && (_jsxs(_Fragment, { children: [_jsx(Typography, { sx: { fontWeight: 600 }, children: clock(stream.next, now, false) }), _jsx(Typography, { variant: "body2", color: "textSecondary", children: "next start" })] }))) })] }));
}
