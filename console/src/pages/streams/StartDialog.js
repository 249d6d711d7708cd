import { jsx as _jsx, jsxs as _jsxs } from "react/jsx-runtime";
import { Button, Dialog, DialogActions, DialogContent, DialogTitle, MenuItem, TextField, Typography, } from '@mui/material';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, body } from '../../api/client';
import { ActionDialog } from '../../parts/ActionDialog';
/** What is to be started by hand: all of it, one job, or from a job on; with which values. */
export function StartDialog({ graph, onClose }) {
    const queries = useQueryClient();
    const [what, setWhat] = useState('');
    const [date, setDate] = useState(graph.date);
    const [values, setValues] = useState({});
    const [ready, setReady] = useState(false);
    const known = useQuery({
        queryKey: ['parameters', graph.stream],
        queryFn: () => body(api.GET('/api/v1/starts/parameters', { params: { query: { stream: graph.stream } } })),
    });
    const [part, job] = what.split(' ');
    const start = {
        stream: graph.stream,
        job: job ?? '',
        andFollowing: part === 'from',
        date,
        parameters: Object.fromEntries(Object.entries(values).filter(([, value]) => value !== '')),
    };
    if (ready) {
        return (_jsx(ActionDialog, { title: `Start ${graph.title}?`, verb: "Start", change: { start }, onClose: onClose, onDo: async (reason) => {
                await api.POST('/api/v1/starts', { body: { ...start, reason } });
                await queries.invalidateQueries();
            } }));
    }
    const own = graph.nodes.filter((node) => node.kind !== 'other' && node.kind !== 'file');
    const asked = known.data?.asksFor ?? [];
    const names = [...asked, ...(known.data?.values ?? []).map((one) => one.name)];
    const missing = asked.filter((name) => !values[name] && !known.data?.values.some((one) => one.name === name));
    return (_jsxs(Dialog, { open: true, onClose: onClose, fullWidth: true, maxWidth: "sm", children: [_jsxs(DialogTitle, { children: ["Start ", graph.title, " by hand"] }), _jsxs(DialogContent, { sx: { display: 'flex', flexDirection: 'column', gap: 1.5 }, children: [_jsxs(TextField, { select: true, label: "What", value: what, onChange: (e) => setWhat(e.target.value), sx: { mt: 1 }, slotProps: { inputLabel: { shrink: true }, select: { displayEmpty: true } }, children: [_jsx(MenuItem, { value: "", children: "All of it" }), own.map((node) => (_jsxs(MenuItem, { value: `from ${node.label}`, children: ["From \u201C", node.title, "\u201D on; what is before counts as done"] }, `from ${node.label}`))), own.map((node) => (_jsxs(MenuItem, { value: `only ${node.label}`, children: ["Only \u201C", node.title, "\u201D, whatever it waits for"] }, `only ${node.label}`)))] }), _jsx(TextField, { type: "date", label: "Business date", value: date, onChange: (e) => setDate(e.target.value), slotProps: { inputLabel: { shrink: true } } }), [...new Set(names)].map((name) => {
                        const usual = known.data?.values.find((one) => one.name === name);
                        return (_jsx(TextField, { size: "small", label: usual ? `${name} (from the ${usual.origin})` : `${name} (must be given)`, placeholder: usual?.value, value: values[name] ?? '', onChange: (e) => setValues({ ...values, [name]: e.target.value }), slotProps: { inputLabel: { shrink: true } } }, name));
                    }), missing.length > 0 && (_jsxs(Typography, { variant: "body2", color: "error", children: ["It asks for ", missing.join(', '), "."] }))] }), _jsxs(DialogActions, { sx: { px: 3, pb: 2 }, children: [_jsx(Button, { onClick: onClose, children: "Leave it" }), _jsx(Button, { variant: "contained", disabled: missing.length > 0, onClick: () => setReady(true), children: "Look ahead" })] })] }));
}
