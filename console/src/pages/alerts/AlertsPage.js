import { jsx as _jsx, jsxs as _jsxs } from "react/jsx-runtime";
import { Box, Button, FormControlLabel, Paper, Stack, Switch, Typography } from '@mui/material';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, body } from '../../api/client';
import { useNow } from '../../api/live';
import { Notice, Waiting } from '../../parts/Notice';
import { clock, span } from '../../parts/time';
/** Alerts, newest first: what they are about, who has taken them on, whom they have reached. */
export function AlertsPage({ mayAct }) {
    const [closed, setClosed] = useState(false);
    const now = useNow();
    const queries = useQueryClient();
    const alerts = useQuery({
        queryKey: ['alerts', closed],
        queryFn: () => body(api.GET('/api/v1/alerts', { params: { query: { closed } } })),
        refetchInterval: 10_000,
    });
    if (!alerts.data) {
        return _jsx(Waiting, { error: alerts.error, what: "Alerts" });
    }
    const act = async (id, action) => {
        await api.POST('/api/v1/alerts/{id}/actions', {
            params: { path: { id } },
            body: { action, reason: '' },
        });
        await queries.invalidateQueries({ queryKey: ['alerts'] });
    };
    const open = alerts.data.filter((alert) => alert.state === 'open').length;
    return (_jsxs(Stack, { sx: { gap: 2 }, children: [_jsxs(Stack, { direction: "row", sx: { alignItems: 'center' }, children: [_jsxs(Box, { sx: { flex: 1 }, children: [_jsx(Typography, { variant: "h1", children: "Alerts" }), _jsx(Typography, { color: "textSecondary", children: open === 0
                                    ? 'Nobody needs to be told anything.'
                                    : `${open} ${open === 1 ? 'waits' : 'wait'} for somebody to take ${open === 1 ? 'it' : 'them'} on.` })] }), _jsx(FormControlLabel, { control: _jsx(Switch, { checked: closed, onChange: (e) => setClosed(e.target.checked) }), label: "Closed ones too" })] }), alerts.data.length === 0 ? (_jsx(Notice, { title: "No alert is open", text: "What was closed can be shown with the switch." })) : (_jsx(Paper, { children: alerts.data.map((alert) => (_jsx(AlertRow, { alert: alert, now: now, mayAct: mayAct, onAct: act }, alert.id))) }))] }));
}
function AlertRow({ alert, now, mayAct, onAct }) {
    return (_jsxs(Box, { sx: {
            display: 'grid',
            gridTemplateColumns: '130px 1fr 250px 210px',
            gap: 2,
            px: 2,
            py: 1.3,
            alignItems: 'start',
            borderTop: '1px solid',
            '&:first-of-type': { borderTop: 'none' },
            borderColor: 'divider',
            opacity: alert.state === 'closed' ? 0.75 : 1,
        }, children: [_jsxs(Box, { sx: (t) => ({
                    borderLeft: `4px solid ${t.states[alert.kind === 'failed' ? 'failed' : 'waiting'].edge}`,
                    pl: 1.2,
                }), children: [_jsx(Typography, { sx: { fontWeight: 700 }, children: alert.kind }), _jsx(Typography, { variant: "body2", color: "textSecondary", children: clock(alert.opened, now, false) })] }), _jsxs(Box, { children: [_jsx(Typography, { sx: { fontWeight: 600 }, children: _jsx(Link, { to: alert.run ? `/runs/${alert.run}` : '/calendars', style: { color: 'inherit' }, children: alert.title }) }), _jsx(Typography, { variant: "body2", children: alert.text }), _jsx(Typography, { variant: "body2", color: "textSecondary", children: alert.reference })] }), _jsxs(Box, { children: [alert.deliveries.length === 0 && (_jsx(Typography, { variant: "body2", color: "textSecondary", children: "nobody is to be told" })), alert.deliveries.map((one, index) => (_jsxs(Typography, { variant: "body2", title: one.lastError || one.address, children: [one.recipient, " by ", one.channel, ":", ' ', one.state === 'delivered'
                                ? `told ${clock(one.delivered, now, false)}`
                                : `not yet, ${one.tries} ${one.tries === 1 ? 'try' : 'tries'}`] }, index)))] }), _jsxs(Stack, { sx: { gap: 0.5, alignItems: 'flex-end' }, children: [alert.state === 'open' && mayAct && (_jsx(Button, { size: "small", variant: "contained", onClick: () => onAct(alert.id, 'acknowledge'), children: "I take it on" })), alert.acknowledgedBy && (_jsxs(Typography, { variant: "body2", children: ["taken on by ", alert.acknowledgedBy] })), alert.closed ? (_jsxs(Typography, { variant: "body2", color: "textSecondary", sx: { textAlign: 'right' }, children: ["closed ", clock(alert.closed, now, false), ": ", alert.closedBecause] })) : (_jsxs(Typography, { variant: "body2", color: "textSecondary", children: ["open for ", span(now - Date.parse(alert.opened ?? ''))] }))] })] }));
}
