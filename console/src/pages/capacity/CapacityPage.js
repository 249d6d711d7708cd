import { jsx as _jsx, jsxs as _jsxs } from "react/jsx-runtime";
import { Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, Paper, Stack, TextField, Typography, } from '@mui/material';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, body } from '../../api/client';
import { useNow } from '../../api/live';
import { ActionDialog } from '../../parts/ActionDialog';
import { Notice, Waiting } from '../../parts/Notice';
import { clock, span } from '../../parts/time';
/** Capacities: who holds how much, who stands in line, and how much there is. */
export function CapacityPage({ mayAct }) {
    const now = useNow();
    const found = useQuery({
        queryKey: ['capacities'],
        queryFn: () => body(api.GET('/api/v1/capacities')),
        refetchInterval: 3_000,
    });
    if (!found.data) {
        return _jsx(Waiting, { error: found.error, what: "Capacities" });
    }
    return (_jsxs(Stack, { sx: { gap: 2 }, children: [_jsxs(Box, { children: [_jsx(Typography, { variant: "h1", children: "Capacity" }), _jsx(Typography, { color: "textSecondary", children: "Units that runs take while they run. Whoever is first in line is served first: the earlier due, a point of priority counting as a minute of waiting." })] }), found.data.length === 0 && (_jsx(Notice, { title: "No capacity is defined", text: "Define one in a file and publish it." })), found.data.map((one) => (_jsx(One, { capacity: one, now: now, mayAct: mayAct }, one.name)))] }));
}
function One({ capacity, now, mayAct }) {
    const queries = useQueryClient();
    const [asking, setAsking] = useState(false);
    const [change, setChange] = useState(null);
    const shown = Math.max(capacity.units, capacity.taken);
    return (_jsxs(Paper, { sx: { p: 2 }, children: [_jsxs(Stack, { direction: "row", sx: { alignItems: 'center', gap: 2, flexWrap: 'wrap' }, children: [_jsxs(Box, { sx: { minWidth: 220 }, children: [_jsx(Typography, { variant: "h2", children: capacity.title }), _jsxs(Typography, { variant: "body2", color: "textSecondary", children: [capacity.name, capacity.spans.length > 0 && ` · ${capacity.spans.join(', ')}`] })] }), _jsx(Stack, { direction: "row", sx: { gap: 0.6, flexWrap: 'wrap' }, "aria-hidden": true, children: Array.from({ length: Math.min(shown, 40) }, (_, i) => (_jsx(Box, { sx: (t) => ({
                                width: 22,
                                height: 22,
                                borderRadius: '5px',
                                border: `1.5px ${i < capacity.units ? 'solid' : 'dashed'} ${t.states.running.edge}`,
                                background: i < capacity.taken ? t.states.running.fill : 'transparent',
                            }) }, i))) }), _jsxs(Typography, { sx: { fontWeight: 600 }, children: [capacity.taken, " of ", capacity.units, " taken"] }), _jsxs(Box, { sx: { flex: 1 }, children: [capacity.set !== undefined && capacity.set !== null && (_jsxs(Typography, { variant: "body2", children: ["changed from ", capacity.defined, " by ", capacity.setBy, ' ', capacity.setSince && `${span(now - Date.parse(capacity.setSince))} ago`, capacity.setReason && `: ${capacity.setReason}`] })), capacity.taken > capacity.units && (_jsx(Typography, { variant: "body2", color: "error", children: "More is taken than there is: nothing starts until enough of it has ended." }))] }), mayAct && (_jsx(Button, { variant: "outlined", onClick: () => setAsking(true), children: "Change units" })), mayAct && capacity.set !== undefined && capacity.set !== null && (_jsx(Button, { onClick: () => setChange({ capacity: { name: capacity.name } }), children: "As defined" }))] }), _jsxs(Box, { sx: { display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 3, mt: 1.5 }, children: [_jsx(Runs, { title: "Held by", none: "Nobody holds any.", runs: capacity.holders, now: now }), _jsx(Runs, { title: "In line", none: "Nobody waits for it.", runs: capacity.line, now: now, numbered: true })] }), asking && (_jsx(HowMany, { capacity: capacity, onClose: () => setAsking(false), onSaid: (units) => {
                    setAsking(false);
                    setChange({ capacity: { name: capacity.name, units } });
                } })), change && (_jsx(ActionDialog, { title: change.capacity?.units === undefined
                    ? `${capacity.title}: as many as are defined?`
                    : `${capacity.title}: ${change.capacity.units} from now on?`, verb: "Change it", change: change, onClose: () => setChange(null), onDo: async (reason, wanted) => {
                    await api.POST('/api/v1/capacities', { body: { ...wanted, reason } });
                    await queries.invalidateQueries({ queryKey: ['capacities'] });
                } }))] }));
}
function HowMany({ capacity, onClose, onSaid }) {
    const [units, setUnits] = useState(String(capacity.units));
    const good = /^\d{1,7}$/.test(units);
    return (_jsxs(Dialog, { open: true, onClose: onClose, children: [_jsxs(DialogTitle, { children: ["How many units of ", capacity.title, "?"] }), _jsx(DialogContent, { children: _jsx(TextField, { autoFocus: true, label: "Units from now on", value: units, onChange: (e) => setUnits(e.target.value), onKeyDown: (e) => e.key === 'Enter' && good && onSaid(Number(units)), error: !good, sx: { mt: 1 } }) }), _jsxs(DialogActions, { children: [_jsx(Button, { onClick: onClose, children: "Leave it" }), _jsx(Button, { variant: "contained", disabled: !good, onClick: () => onSaid(Number(units)), children: "Look ahead" })] })] }));
}
function Runs({ title, none, runs, now, numbered }) {
    return (_jsxs(Box, { children: [_jsx(Typography, { variant: "h3", sx: { mb: 0.5 }, children: title }), runs.length === 0 && (_jsx(Typography, { variant: "body2", color: "textSecondary", children: none })), runs.map((run, index) => (_jsxs(Box, { sx: {
                    display: 'grid',
                    gridTemplateColumns: '24px 1fr auto',
                    gap: 1,
                    py: 0.4,
                    borderTop: '1px solid',
                    borderColor: 'divider',
                }, children: [_jsx(Typography, { variant: "body2", color: "textSecondary", children: numbered ? index + 1 : '' }), _jsxs(Box, { children: [_jsx(Link, { to: `/runs/${run.run}`, style: { color: 'inherit' }, children: run.title }), _jsx(Typography, { variant: "body2", color: "textSecondary", children: run.reference })] }), _jsxs(Typography, { variant: "body2", sx: { textAlign: 'right' }, children: [run.units, " ", run.units === 1 ? 'unit' : 'units', " \u00B7 priority ", run.priority, _jsx("br", {}), "since ", clock(run.since, now)] })] }, run.run)))] }));
}
