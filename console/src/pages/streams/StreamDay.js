import { jsx as _jsx, jsxs as _jsxs } from "react/jsx-runtime";
import { Box, Button, Menu, MenuItem, Paper, Stack, Table, TableBody, TableCell, TableHead, TableRow, TextField, ToggleButton, ToggleButtonGroup, Typography, } from '@mui/material';
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { api, body } from '../../api/client';
import { useNow } from '../../api/live';
import { ActionDialog } from '../../parts/ActionDialog';
import { Notice, Waiting } from '../../parts/Notice';
import { StateMark } from '../../parts/StateMark';
import { clock } from '../../parts/time';
import { Timeline } from '../today/Timeline';
import { streamAddress } from './address';
import { Picture } from './Picture';
import { StartDialog } from './StartDialog';
/** One start of a stream: as a picture, a table or a timeline, and what can be done with it. */
export function StreamDay({ stream, mayAct }) {
    const [address, setAddress] = useSearchParams();
    const date = address.get('date') ?? '';
    const number = Number(address.get('number') ?? 0);
    const face = address.get('as') ?? 'graph';
    const now = useNow(5_000);
    const set = (name, value) => {
        const next = new URLSearchParams(address);
        next.set(name, value);
        if (name === 'date') {
            next.delete('number');
        }
        setAddress(next, { replace: true });
    };
    const found = useQuery({
        queryKey: ['today', 'graph', stream, date, number],
        queryFn: () => body(api.GET('/api/v1/graph', {
            params: { query: { stream, number, ...(date ? { date } : {}) } },
        })),
        placeholderData: keepPreviousData,
        refetchInterval: 10_000,
    });
    if (!found.data) {
        return _jsx(Waiting, { error: found.error, what: "The stream" });
    }
    const graph = found.data;
    return (_jsxs(Paper, { children: [_jsxs(Stack, { direction: "row", sx: { p: 1.5, gap: 1.5, alignItems: 'center', flexWrap: 'wrap' }, children: [_jsxs(ToggleButtonGroup, { size: "small", exclusive: true, value: face, "aria-label": "Show as", onChange: (_, value) => value && set('as', value), children: [_jsx(ToggleButton, { value: "graph", children: "Graph" }), _jsx(ToggleButton, { value: "table", children: "Table" }), _jsx(ToggleButton, { value: "timeline", children: "Timeline" })] }), _jsx(TextField, { type: "date", size: "small", label: "Business date", value: graph.date, onChange: (e) => e.target.value && set('date', e.target.value), slotProps: { inputLabel: { shrink: true } } }), graph.numbers.length > 1 && (_jsx(TextField, { select: true, size: "small", label: "Start", value: graph.number, onChange: (e) => set('number', e.target.value), sx: { width: 92 }, children: graph.numbers.map((one) => (_jsxs(MenuItem, { value: one, children: ["#", one] }, one))) })), graph.state ? (_jsx(StateMark, { state: graph.state })) : (_jsx(Typography, { color: "textSecondary", children: "not planned on this date" })), graph.stalled && (_jsx(Typography, { color: "error", sx: { fontWeight: 650 }, children: "stalled: nothing in it can move without a person" })), _jsx(Box, { sx: { flex: 1 } }), graph.succeedsIf !== 'all' && (_jsxs(Typography, { variant: "body2", color: "textSecondary", children: ["succeeds if: ", graph.succeedsIf] })), mayAct && _jsx(StreamActions, { graph: graph })] }), face === 'table' && _jsx(Jobs, { graph: graph, now: now }), face === 'timeline' && _jsx(Line, { graph: graph, now: now }), face === 'graph' && _jsx(Picture, { graph: graph }, graph.stream)] }));
}
/** What can be done with a whole stream, or with this start of it. */
function StreamActions({ graph }) {
    const queries = useQueryClient();
    const [menu, setMenu] = useState(null);
    const [starting, setStarting] = useState(false);
    const [asked, setAsked] = useState(null);
    const holds = useQuery({ queryKey: ['holds'], queryFn: () => body(api.GET('/api/v1/holds')) });
    const held = holds.data?.find((one) => one.kind === 'stream' && one.name === graph.stream);
    const runs = graph.nodes.flatMap((node) => (node.run && node.kind !== 'other' ? [node.run] : []));
    const offer = (verb, action) => {
        const some = runs.filter((run) => run.actions.includes(action));
        return some.length === 0
            ? []
            : [
                {
                    verb: `${verb} (${some.length})`,
                    title: `${verb}: ${some.length} ${some.length === 1 ? 'run' : 'runs'} of this start?`,
                    change: { action, runs: some.map((run) => run.id) },
                },
            ];
    };
    const offers = [
        {
            verb: held ? 'Release the stream' : 'Hold the stream',
            title: held
                ? `Release ${graph.title}? It was ${held.note}`
                : `Hold ${graph.title}, with all its runs to come?`,
            change: {
                action: held ? 'release' : 'hold',
                scope: { kind: 'stream', name: graph.stream },
            },
        },
        ...offer('Cancel what is open', 'cancel'),
        ...offer('Rerun what failed', 'rerun').map((one) => ({
            ...one,
            change: {
                ...one.change,
                runs: runs.filter((run) => run.state === 'failed').map((run) => run.id),
            },
        })),
        ...offer('Skip what waits', 'skip'),
    ].filter((one) => one.change.scope || (one.change.runs?.length ?? 0) > 0);
    const act = async (reason, change) => {
        if (change.scope) {
            await api.POST('/api/v1/holds', { body: { ...change, reason } });
        }
        else {
            await api.POST('/api/v1/actions', { body: { ...change, reason } });
        }
        await queries.invalidateQueries();
    };
    return (_jsxs(Stack, { direction: "row", sx: { gap: 1 }, children: [held && (_jsx(Typography, { variant: "body2", sx: { alignSelf: 'center', maxWidth: 260 }, children: held.note })), !graph.above && (_jsx(Button, { variant: "outlined", onClick: () => setStarting(true), children: "Start" })), _jsx(Button, { variant: "outlined", "aria-haspopup": "menu", onClick: (e) => setMenu(e.currentTarget), children: "More" }), _jsx(Menu, { anchorEl: menu, open: menu !== null, onClose: () => setMenu(null), children: offers.map((one) => (_jsx(MenuItem, { onClick: () => {
                        setMenu(null);
                        setAsked(one);
                    }, children: one.verb }, one.verb))) }), asked && (_jsx(ActionDialog, { title: asked.title, verb: asked.verb.replace(/ \(.*/, ''), change: asked.change, onClose: () => setAsked(null), onDo: act })), starting && _jsx(StartDialog, { graph: graph, onClose: () => setStarting(false) })] }));
}
function Jobs({ graph, now }) {
    const asks = (id) => graph.edges
        .filter((edge) => edge.to === id)
        .map((edge) => `${edge.alternative ? 'or ' : ''}${graph.nodes.find((node) => node.id === edge.from)?.label ?? edge.from} ${edge.label}`)
        .join(', ');
    return (_jsxs(Table, { size: "small", children: [_jsx(TableHead, { children: _jsx(TableRow, { children: ['State', 'Job', 'Asks for', 'Began', 'Ended', 'How it stands'].map((name) => (_jsx(TableCell, { children: name }, name))) }) }), _jsx(TableBody, { children: graph.nodes
                    .filter((node) => node.kind !== 'other' && node.kind !== 'file')
                    .map((node) => (_jsxs(TableRow, { children: [_jsx(TableCell, { children: node.run && _jsx(StateMark, { state: node.run.state, held: node.run.hold !== '' }) }), _jsxs(TableCell, { children: [_jsx(Link, { to: node.kind === 'stream'
                                        ? `${streamAddress(node.id)}?date=${graph.date}&number=${graph.number}`
                                        : `/runs/${node.run?.id ?? ''}`, style: { color: 'inherit', fontWeight: 600 }, children: node.title }), _jsxs(Typography, { variant: "body2", color: "textSecondary", children: [node.kind === 'stream' ? 'stream · ' : '', node.label] })] }), _jsx(TableCell, { sx: { maxWidth: 300 }, children: asks(node.id) }), _jsx(TableCell, { children: clock(node.run?.started, now) }), _jsx(TableCell, { children: node.run?.ended
                                ? clock(node.run.ended, now)
                                : node.run?.expectedEnd && `~${clock(node.run.expectedEnd, now)}` }), _jsx(TableCell, { children: node.run?.sentence })] }, node.id))) })] }));
}
/** Each job as a line of its own, across the full width. */
function Line({ graph, now }) {
    const runs = graph.nodes.flatMap((node) => (node.run && node.kind !== 'other' ? [node.run] : []));
    if (runs.length === 0) {
        return _jsx(Notice, { title: "Nothing of it is planned on this date", text: "Choose another date." });
    }
    return (_jsx(Timeline, { streams: runs.map((run) => ({
            stream: run.reference,
            title: run.title,
            department: run.department,
            number: run.number,
            state: run.state,
            stalled: false,
            due: run.due,
            started: run.started,
            ended: run.ended,
            expectedEnd: run.expectedEnd,
            runs: [run],
        })), now: now, hours: 0, isToday: runs.some((run) => !run.ended) }));
}
