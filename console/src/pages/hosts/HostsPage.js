import { jsx as _jsx, jsxs as _jsxs } from "react/jsx-runtime";
import { Box, Button, LinearProgress, Paper, Stack, Typography } from '@mui/material';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, body } from '../../api/client';
import { useNow } from '../../api/live';
import { ActionDialog } from '../../parts/ActionDialog';
import { Notice, Waiting } from '../../parts/Notice';
import { StateIcon } from '../../parts/StateMark';
import { clock, span } from '../../parts/time';
const GIGABYTE = 1e9;
const SCARCE = 0.1;
/** Hosts with what their agents say. */
export function HostsPage({ mayAct }) {
    const now = useNow();
    const queries = useQueryClient();
    const [asked, setAsked] = useState();
    const hosts = useQuery({
        queryKey: ['hosts'],
        queryFn: () => body(api.GET('/api/v1/hosts')),
        refetchInterval: 5_000,
    });
    if (!hosts.data) {
        return _jsx(Waiting, { error: hosts.error, what: "Hosts" });
    }
    const away = hosts.data.filter((host) => !host.connected).length;
    const drained = hosts.data.filter((host) => host.drained).length;
    const act = async (host, reason) => {
        await body(api.POST('/api/v1/hosts/{name}/actions', {
            params: { path: { name: host.name } },
            body: { action: host.drained ? 'return' : 'drain', reason },
        }));
        await queries.invalidateQueries({ queryKey: ['hosts'] });
    };
    return (_jsxs(Stack, { sx: { gap: 2 }, children: [_jsxs(Box, { children: [_jsx(Typography, { variant: "h1", children: "Hosts" }), _jsxs(Typography, { color: "textSecondary", children: [hosts.data.length - away, " of ", hosts.data.length, " connected", drained > 0 && ` · ${drained} drained`] })] }), hosts.data.length === 0 && (_jsx(Notice, { title: "There are no hosts yet", text: "Define one in a file and publish it." })), _jsx(Box, { sx: {
                    display: 'grid',
                    gridTemplateColumns: 'repeat(auto-fill, minmax(290px, 1fr))',
                    gap: 2,
                }, children: hosts.data.map((host) => (_jsx(HostCard, { host: host, now: now, onAct: mayAct ? () => setAsked(host) : undefined }, host.name))) }), asked && (_jsx(ActionDialog, { title: asked.drained ? `Return ${asked.title} to work` : `Drain ${asked.title}`, verb: asked.drained ? 'Return' : 'Drain', effect: asked.drained
                    ? 'It is given work again at once.'
                    : `What runs on it goes on (${running(asked)}); nothing new starts there until it is returned. Runs that may go elsewhere do; others wait and say so.`, onClose: () => setAsked(undefined), onDo: (reason) => act(asked, reason) }))] }));
}
function running(host) {
    const limit = host.atMost > 0 ? ` of ${host.atMost} at most` : '';
    return host.running === 1 && !limit ? '1 run' : `${host.running}${limit || ' runs'}`;
}
function edge(host) {
    if (!host.connected) {
        return 'failed';
    }
    return host.drained ? 'held' : 'running';
}
function HostCard({ host, now, onAct }) {
    const state = host.connected ? 'connected' : host.enrolled ? 'not connected' : 'not enrolled';
    const difference = Math.abs(host.clockDifferenceMillis ?? 0);
    return (_jsxs(Paper, { sx: (t) => ({
            p: 2,
            borderLeft: `5px solid ${t.states[edge(host)].edge}`,
            display: 'flex',
            flexDirection: 'column',
            gap: 0.4,
        }), children: [_jsx(Typography, { variant: "h2", children: host.title }), _jsxs(Typography, { variant: "body2", color: "textSecondary", children: [host.name, host.groups.length > 0 && ` · in ${host.groups.join(', ')}`] }), _jsxs(Typography, { component: "div", sx: { display: 'flex', alignItems: 'center', gap: 0.7, fontWeight: 650, mt: 1 }, children: [_jsx(StateIcon, { state: host.connected ? 'succeeded' : 'failed' }), state, host.since && ` for ${span(now - Date.parse(host.since))}`] }), host.drained && (_jsxs(Typography, { variant: "body2", sx: { fontWeight: 650 }, children: [host.drained, "; it takes nothing new"] })), _jsxs(Typography, { variant: "body2", children: ["running on it: ", running(host)] }), host.machine && _jsx(MachineLines, { machine: host.machine, stale: !host.connected }), difference > 2000 && (_jsxs(Typography, { variant: "body2", color: "error", children: ["its clock is ", span(difference), ' ', (host.clockDifferenceMillis ?? 0) > 0 ? 'ahead' : 'behind', "; times are corrected by that"] })), _jsxs(Typography, { variant: "body2", color: "textSecondary", children: [host.lastSeen ? `last heard ${clock(host.lastSeen, now)}` : 'never heard', host.version && ` · agent ${host.version}`] }), _jsxs(Typography, { variant: "body2", color: "textSecondary", sx: { flex: 1 }, children: ["labels ", host.labels.join(', ') || 'none'] }), onAct && (_jsx(Box, { children: _jsx(Button, { size: "small", onClick: onAct, children: host.drained ? 'Return to work' : 'Drain' }) }))] }));
}
function MachineLines({ machine, stale }) {
    return (_jsxs(Stack, { sx: { gap: 0.6, my: 0.6, opacity: stale ? 0.55 : 1 }, children: [machine.load >= 0 && (_jsx(Level, { name: `load ${machine.load.toFixed(1)} on ${machine.cores} ${machine.cores === 1 ? 'core' : 'cores'}`, used: machine.load / machine.cores, bad: machine.load > machine.cores * 2 })), machine.memory > 0 && machine.memoryFree >= 0 && (_jsx(Level, { name: `memory ${(machine.memoryFree / GIGABYTE).toFixed(1)} GB free`, used: 1 - machine.memoryFree / machine.memory, bad: machine.memoryFree < machine.memory * SCARCE })), machine.disk > 0 && (_jsx(Level, { name: `disk ${(machine.diskFree / GIGABYTE).toFixed(1)} GB free`, used: 1 - machine.diskFree / machine.disk, bad: machine.diskFree < machine.disk * SCARCE }))] }));
}
function Level({ name, used, bad }) {
    return (_jsxs(Box, { children: [_jsx(Typography, { variant: "body2", color: bad ? 'error' : 'textSecondary', children: name }), _jsx(LinearProgress, { variant: "determinate", "aria-label": name, value: Math.max(0, Math.min(100, used * 100)), color: bad ? 'error' : 'primary', sx: { height: 5, borderRadius: 3 } })] }));
}
