import { jsx as _jsx, jsxs as _jsxs } from "react/jsx-runtime";
import { Box, Paper, Typography } from '@mui/material';
import { useWindowVirtualizer } from '@tanstack/react-virtual';
import { useCallback, useMemo, useState } from 'react';
import { Link } from 'react-router';
import { StateIcon, stateName } from '../../parts/StateMark';
import { axisTime, clock, span } from '../../parts/time';
import { barOf, place, scaleOf, streamBar, ticks, zoomed, } from './scale';
const STREAM_HEIGHT = 42;
const RUN_HEIGHT = 32;
/** Streams across the full width, labels on their bars; each opens into its runs. */
export function Timeline({ streams, now, hours, isToday }) {
    const [open, setOpen] = useState(new Set());
    const minute = Math.floor(now / 60_000) * 60_000;
    const scale = useMemo(() => zoomed(scaleOf(streams, minute), hours, minute), [streams, hours, minute]);
    const rows = useMemo(() => streams.flatMap((stream) => open.has(key(stream))
        ? [{ stream }, ...stream.runs.map((run) => ({ stream, run }))]
        : [{ stream }]), [streams, open]);
    const [margin, setMargin] = useState(0);
    const list = useCallback((node) => {
        if (node) {
            setMargin(node.offsetTop);
        }
    }, []);
    const virtual = useWindowVirtualizer({
        count: rows.length,
        estimateSize: (index) => (rows[index]?.run ? RUN_HEIGHT : STREAM_HEIGHT),
        overscan: 12,
        scrollMargin: margin,
        getItemKey: (index) => rowKey(rows[index]),
    });
    const toggle = (stream) => {
        const next = new Set(open);
        if (!next.delete(key(stream))) {
            next.add(key(stream));
        }
        setOpen(next);
    };
    return (_jsxs(Paper, { sx: { overflow: 'clip' }, children: [_jsx(Axis, { scale: scale, now: now, isToday: isToday }), _jsxs(Box, { ref: list, sx: { position: 'relative', height: virtual.getTotalSize() }, children: [_jsx(Grid, { scale: scale, now: now, isToday: isToday }), virtual.getVirtualItems().map((item) => {
                        const row = rows[item.index];
                        return (_jsx(Box, { sx: {
                                position: 'absolute',
                                insetInline: 0,
                                top: item.start - margin,
                                height: item.size,
                            }, children: row.run ? (_jsx(RunBar, { run: row.run, scale: scale, now: now })) : (_jsx(StreamBar, { stream: row.stream, scale: scale, now: now, open: open.has(key(row.stream)), onToggle: () => toggle(row.stream) })) }, item.key));
                    })] })] }));
}
function key(stream) {
    return `${stream.stream}#${stream.runs[0]?.number ?? 1}`;
}
function rowKey(row) {
    return row.run ? `run ${row.run.id}` : key(row.stream);
}
function Axis({ scale, now, isToday }) {
    return (_jsxs(Box, { sx: {
            position: 'sticky',
            top: 56,
            zIndex: 5,
            height: 30,
            background: (theme) => theme.palette.background.paper,
            borderBottom: '1px solid',
            borderColor: 'divider',
        }, children: [ticks(scale)
                .filter((tick) => place(tick, scale) < 97)
                .filter((tick) => !isToday || Math.abs(place(tick, scale) + 2 - place(now, scale)) > 6)
                .map((tick) => (_jsx(Typography, { variant: "body2", color: "textSecondary", sx: { position: 'absolute', left: `calc(${place(tick, scale)}% + 5px)`, top: 5 }, children: axisTime(tick) }, tick))), isToday && isWithin(now, scale) && (_jsxs(Box, { sx: {
                    position: 'absolute',
                    left: `clamp(40px, ${place(now, scale)}%, calc(100% - 40px))`,
                    top: 4,
                    transform: 'translateX(-50%)',
                    px: 1,
                    borderRadius: 999,
                    fontSize: '0.8rem',
                    fontWeight: 700,
                    color: '#11293b',
                    background: '#e6b655',
                }, children: ["now ", clock(new Date(now).toISOString(), now, false)] }))] }));
}
function isWithin(instant, scale) {
    return instant >= scale.from && instant <= scale.to;
}
function Grid({ scale, now, isToday }) {
    return (_jsxs(Box, { "aria-hidden": true, children: [ticks(scale).map((tick) => (_jsx(Box, { sx: {
                    position: 'absolute',
                    insetBlock: 0,
                    left: `${place(tick, scale)}%`,
                    borderLeft: '1px solid',
                    borderColor: 'divider',
                } }, tick))), isToday && isWithin(now, scale) && (_jsx(Box, { sx: {
                    position: 'absolute',
                    insetBlock: 0,
                    left: `${place(now, scale)}%`,
                    borderLeft: '2px solid #c99a3a',
                    zIndex: 3,
                } }))] }));
}
/** A bar, at least wide enough to be seen. */
function Bar({ from, to, scale, state, likely, height }) {
    const left = Math.max(0, place(from, scale));
    const right = Math.min(100, place(to, scale));
    if (right < 0 || left > 100) {
        return null;
    }
    return (_jsx(Box, { sx: (theme) => {
            const colours = theme.states[stateName(state)];
            return {
                position: 'absolute',
                left: `${left}%`,
                width: `max(6px, ${right - left}%)`,
                top: (height === STREAM_HEIGHT ? 6 : 5) + 'px',
                height: height - (height === STREAM_HEIGHT ? 12 : 10),
                borderRadius: '7px',
                background: likely ? 'transparent' : colours.fill,
                border: `1.5px ${likely ? 'dashed' : 'solid'} ${colours.edge}`,
            };
        } }));
}
/** The label of a row: on its bar, and on past its end where the bar is short. */
function Label({ at, children }) {
    const right = at > 62;
    return (_jsx(Box, { sx: {
            position: 'absolute',
            insetBlock: 0,
            ...(right
                ? { right: `calc(${100 - at}% + 10px)` }
                : { left: `calc(${Math.max(at, 0)}% + 10px)` }),
            display: 'flex',
            alignItems: 'center',
            gap: 0.8,
            whiteSpace: 'nowrap',
            zIndex: 4,
        }, children: children }));
}
function StreamBar({ stream, scale, now, open, onToggle }) {
    const bar = streamBar(stream, now);
    const likely = stream.state === 'planned';
    return (_jsxs(Box, { component: "button", onClick: onToggle, "aria-expanded": open, "aria-label": `${stream.title}, ${stream.state}, ${stream.runs.length} runs`, sx: {
            all: 'unset',
            display: 'block',
            position: 'relative',
            width: '100%',
            height: STREAM_HEIGHT,
            cursor: 'pointer',
            borderBottom: '1px solid',
            borderColor: 'divider',
            boxSizing: 'border-box',
            '&:hover': { background: 'rgba(127,160,180,0.10)' },
            '&:focus-visible': { outline: '3px solid #c98a13', outlineOffset: -3 },
        }, children: [_jsx(Bar, { ...bar, scale: scale, state: stream.state, likely: likely, height: STREAM_HEIGHT }), _jsxs(Label, { at: place(bar.from, scale), children: [_jsx(Box, { component: "span", sx: { display: 'flex', color: (t) => t.states[stateName(stream.state)].text }, children: _jsx(StateIcon, { state: stream.state, size: 18 }) }), _jsx(Typography, { component: "span", sx: { fontWeight: 650 }, children: stream.title }), _jsx(Typography, { component: "span", variant: "body2", color: "textSecondary", children: streamWords(stream, now) }), _jsx(Typography, { component: "span", variant: "body2", color: "textSecondary", "aria-hidden": true, children: open ? '▾' : '▸' })] })] }));
}
function streamWords(stream, now) {
    const done = stream.runs.filter((run) => run.ended).length;
    const progress = `${done} of ${stream.runs.length}`;
    if (stream.ended) {
        return `${stream.state}, ended ${clock(stream.ended, now, false)}`;
    }
    const likely = stream.expectedEnd ? `, likely done ${clock(stream.expectedEnd, now, false)}` : '';
    return stream.state === 'planned'
        ? `planned ${clock(stream.due, now, false)}${likely}`
        : `${stream.state}, ${progress} done${likely}`;
}
function RunBar({ run, scale, now }) {
    const bar = barOf(run, now);
    return (_jsxs(Box, { component: Link, to: `/runs/${run.id}`, title: run.sentence, sx: {
            display: 'block',
            position: 'relative',
            height: RUN_HEIGHT,
            color: 'inherit',
            textDecoration: 'none',
            background: 'rgba(127,160,180,0.06)',
            '&:hover': { background: 'rgba(127,160,180,0.16)' },
            '&:focus-visible': { outline: '3px solid #c98a13', outlineOffset: -3 },
        }, children: [_jsx(Bar, { ...bar, scale: scale, state: run.state, height: RUN_HEIGHT }), _jsxs(Label, { at: place(bar.from, scale), children: [_jsx(Box, { component: "span", sx: { display: 'flex', color: (t) => t.states[stateName(run.state)].text }, children: _jsx(StateIcon, { state: run.state }) }), _jsx(Typography, { component: "span", variant: "body2", sx: { fontWeight: 600 }, children: run.title }), _jsx(Typography, { component: "span", variant: "body2", color: "textSecondary", children: runWords(run, now) })] })] }));
}
function runWords(run, now) {
    const held = run.hold ? ', held' : '';
    const late = run.alerts.includes('late') ? ', late' : '';
    if (run.started && run.ended) {
        const took = span(Date.parse(run.ended) - Date.parse(run.started));
        return `${run.state} in ${took}${late}`;
    }
    if (run.state === 'running') {
        return `running on ${run.host} for ${span(now - Date.parse(run.started ?? ''))}${late}`;
    }
    const likely = run.expectedStart ? `, likely ${clock(run.expectedStart, now, false)}` : '';
    return `${run.state}${held}${late}${run.ended ? '' : likely}`;
}
