import { jsx as _jsx, jsxs as _jsxs } from "react/jsx-runtime";
import { Box, Paper, Stack, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { Link, useParams } from 'react-router';
import { api, body } from '../../api/client';
import { useNow } from '../../api/live';
import { Waiting } from '../../parts/Notice';
import { StateIcon, StateMark, stateName } from '../../parts/StateMark';
import { clock, span } from '../../parts/time';
import { mono } from '../../theme';
import { streamAddress } from '../streams/address';
import { History } from './History';
import { Output } from './Output';
import { Reasons } from './Reasons';
import { RunActions } from './RunActions';
import { Values } from './Values';
/** One run: how it stands and why, what can be done, its output, and how it went before. */
export function RunPage({ mayAct }) {
    const id = Number(useParams().id);
    const now = useNow();
    const found = useQuery({
        queryKey: ['run', id],
        queryFn: () => body(api.GET('/api/v1/runs/{id}', { params: { path: { id } } })),
        refetchInterval: 10_000,
    });
    if (!found.data) {
        return _jsx(Waiting, { error: found.error, what: "The run" });
    }
    const { run, why } = found.data;
    return (_jsxs(Stack, { sx: { gap: 2 }, children: [_jsxs(Box, { children: [_jsxs(Typography, { variant: "body2", color: "textSecondary", children: [_jsx(Link, { to: `${streamAddress(run.stream)}?date=${run.date}&number=${run.number}`, style: { color: 'inherit' }, children: run.streamTitle }), ' ', "\u00B7 business date ", run.date, found.data.above && ` · below the step ${found.data.above}`] }), _jsxs(Stack, { direction: "row", sx: { alignItems: 'center', gap: 1.5, flexWrap: 'wrap' }, children: [_jsx(Typography, { variant: "h1", children: run.title }), _jsx(StateMark, { state: run.state, held: run.hold !== '' }), run.alerts
                                .filter((alert) => alert !== run.state)
                                .map((alert) => (_jsx(Typography, { color: "error", sx: { fontWeight: 700 }, children: alert }, alert))), _jsx(Box, { sx: { flex: 1 } }), mayAct && _jsx(RunActions, { detail: found.data })] }), _jsx(Typography, { sx: { fontFamily: mono, fontSize: '0.85rem' }, color: "textSecondary", children: run.reference })] }), _jsxs(Paper, { sx: { p: 2 }, children: [_jsxs(Typography, { sx: { fontSize: '1.1rem', fontWeight: 600 }, children: [why.sentence, "."] }), _jsx(Reasons, { reasons: why.reasons, now: now, said: why.sentence })] }), _jsxs(Box, { sx: { display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) 400px', gap: 2 }, children: [_jsxs(Stack, { sx: { gap: 2, minWidth: 0 }, children: [run.kind === 'stream' ? (_jsx(Below, { detail: found.data })) : (run.kind === 'command' && _jsx(Output, { run: run.id, attempts: found.data.attempts })), _jsx(Values, { run: run.id, values: found.data.values }), _jsx(History, { run: run, earlier: found.data.earlier })] }), _jsxs(Stack, { sx: { gap: 2 }, children: [_jsx(Facts, { detail: found.data, now: now }), _jsx(Moments, { detail: found.data, now: now }), _jsx(Done, { detail: found.data, now: now })] })] })] }));
}
function Fact({ name, children }) {
    return (_jsxs(Box, { sx: { display: 'grid', gridTemplateColumns: '104px 1fr', gap: 1, py: 0.35 }, children: [_jsx(Typography, { variant: "body2", color: "textSecondary", children: name }), _jsx(Typography, { variant: "body2", component: "div", sx: { overflowWrap: 'anywhere' }, children: children })] }));
}
function Facts({ detail, now }) {
    const { run } = detail;
    const late = run.chanceLate === undefined ? '' : `${Math.round(run.chanceLate * 100)} in 100`;
    return (_jsxs(Paper, { sx: { p: 2 }, children: [detail.command && (_jsx(Fact, { name: run.kind === 'approval' ? 'Asks' : 'Does', children: _jsx("span", { style: { fontFamily: run.kind === 'approval' ? undefined : mono }, children: detail.command }) })), detail.onlyIf && _jsx(Fact, { name: "Only if", children: detail.onlyIf }), detail.waitsFor && _jsx(Fact, { name: "Waits for", children: detail.waitsFor }), detail.files.map((file) => (_jsxs(Fact, { name: `File ${file.watch}`, children: [file.sight, file.path && `: ${file.path}`] }, file.watch))), _jsxs(Fact, { name: "Due", children: [clock(run.due, now), run.shift && ` (clock change: ${run.shift})`] }), run.startBy && _jsx(Fact, { name: "Start by", children: clock(run.startBy, now) }), run.finishBy && _jsx(Fact, { name: "Finish by", children: clock(run.finishBy, now) }), run.expectedEnd && (_jsxs(Fact, { name: "Likely end", children: [clock(run.expectedEnd, now, false), run.latestEnd && `, at the latest ${clock(run.latestEnd, now, false)}`] })), late && _jsx(Fact, { name: "Chance late", children: late }), run.priority !== 50 && _jsx(Fact, { name: "Priority", children: run.priority }), run.tags.length > 0 && _jsx(Fact, { name: "Tags", children: run.tags.join(', ') }), detail.parameters.map((one) => (_jsxs(Fact, { name: one.name, children: [one.value, ' ', _jsxs(Typography, { component: "span", variant: "body2", color: "textSecondary", children: ["from ", one.origin === 'start' ? 'the start by hand' : `the ${one.origin}`] })] }, one.name))), detail.attempts.map((attempt) => (_jsxs(Fact, { name: `Attempt ${attempt.number}`, children: ["on ", attempt.host, attempt.started && `, ${clock(attempt.started, now)}`, attempt.started &&
                        attempt.ended &&
                        `, took ${span(Date.parse(attempt.ended) - Date.parse(attempt.started))}`, attempt.note && `: ${attempt.note}`] }, attempt.number)))] }));
}
function Moments({ detail, now }) {
    return (_jsxs(Paper, { sx: { p: 2 }, children: [_jsx(Typography, { variant: "h2", sx: { mb: 1 }, children: "What happened" }), detail.moments.length === 0 && (_jsx(Typography, { variant: "body2", color: "textSecondary", children: "Nothing yet: it is planned." })), detail.moments.map((moment, index) => (_jsxs(Box, { sx: { display: 'grid', gridTemplateColumns: '82px 18px 1fr', gap: 1, py: 0.3 }, children: [_jsx(Typography, { variant: "body2", color: "textSecondary", children: clock(moment.at, now) }), _jsx(Box, { sx: { color: (t) => t.states[stateName(moment.state)].edge, pt: 0.3 }, children: _jsx(StateIcon, { state: moment.state }) }), _jsx(Typography, { variant: "body2", children: moment.note || moment.state })] }, index)))] }));
}
/** The runs right below a step. */
function Below({ detail }) {
    const address = `${streamAddress(`${detail.run.stream}/${detail.run.job}`)}?date=${detail.run.date}&number=${detail.run.number}`;
    return (_jsxs(Paper, { sx: { p: 2 }, children: [_jsxs(Stack, { direction: "row", sx: { alignItems: 'baseline', gap: 2, mb: 1 }, children: [_jsx(Typography, { variant: "h2", children: "Below this step" }), _jsx(Link, { to: address, children: "as a picture" })] }), detail.below.map((run) => (_jsxs(Stack, { direction: "row", sx: { gap: 1.5, py: 0.5, alignItems: 'center' }, children: [_jsx(StateMark, { state: run.state, held: run.hold !== '' }), _jsx(Link, { to: `/runs/${run.id}`, style: { color: 'inherit' }, children: run.title }), _jsxs(Typography, { variant: "body2", color: "textSecondary", children: [run.sentence, "."] })] }, run.id)))] }));
}
/** What people did to the run, and why. */
function Done({ detail, now }) {
    if (detail.done.length === 0) {
        return null;
    }
    return (_jsxs(Paper, { sx: { p: 2 }, children: [_jsx(Typography, { variant: "h2", sx: { mb: 1 }, children: "Who did what" }), detail.done.map((entry) => (_jsxs(Box, { sx: { display: 'grid', gridTemplateColumns: '82px 1fr', gap: 1, py: 0.3 }, children: [_jsx(Typography, { variant: "body2", color: "textSecondary", children: clock(entry.at, now) }), _jsxs(Typography, { variant: "body2", children: [_jsx("b", { children: entry.who }), ": ", entry.what, entry.reason && `, because ${entry.reason}`] })] }, entry.id)))] }));
}
