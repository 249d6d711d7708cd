import { jsx as _jsx, jsxs as _jsxs } from "react/jsx-runtime";
import { Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField, Typography, } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, body } from '../api/client';
/** Says what an action will do before it is taken, and asks for the reason. */
export function ActionDialog({ title, verb, effect, change, onClose, onDo }) {
    const [reason, setReason] = useState('');
    const [priority, setPriority] = useState('50');
    const [startAt, setStartAt] = useState('');
    const [problem, setProblem] = useState('');
    const [busy, setBusy] = useState(false);
    const wanted = { ...change };
    if (change?.action === 'priority') {
        wanted.priority = Number(priority);
    }
    if (change?.action === 'start-at' && startAt) {
        wanted.startAt = new Date(startAt).toISOString();
    }
    const complete = change?.action !== 'start-at' || startAt !== '';
    const act = async () => {
        setBusy(true);
        try {
            await onDo(reason, wanted);
            onClose();
        }
        catch (e) {
            setProblem(e instanceof Error ? e.message : String(e));
            setBusy(false);
        }
    };
    return (_jsxs(Dialog, { open: true, onClose: onClose, maxWidth: "sm", fullWidth: true, children: [_jsx(DialogTitle, { children: title }), _jsxs(DialogContent, { children: [effect && _jsx(Typography, { sx: { mb: 1.5 }, children: effect }), change?.action === 'priority' && (_jsx(TextField, { fullWidth: true, type: "number", label: "Priority, 0 to 100: a point is worth a minute of waiting", value: priority, onChange: (e) => setPriority(e.target.value), sx: { my: 1.5 } })), change?.action === 'start-at' && (_jsx(TextField, { fullWidth: true, type: "datetime-local", label: "Not before, on your clock", value: startAt, onChange: (e) => setStartAt(e.target.value), slotProps: { inputLabel: { shrink: true } }, sx: { my: 1.5 } })), change && complete && _jsx(LookAhead, { change: wanted }), _jsx(TextField, { autoFocus: true, fullWidth: true, label: "Why (kept with the run and in the audit trail)", value: reason, onChange: (e) => setReason(e.target.value), onKeyDown: (e) => e.key === 'Enter' && complete && act(), sx: { mt: 1 } }), problem && (_jsx(Typography, { role: "alert", color: "error", sx: { mt: 1.5 }, children: problem }))] }), _jsxs(DialogActions, { sx: { px: 3, pb: 2 }, children: [_jsx(Button, { onClick: onClose, children: "Leave it" }), _jsx(Button, { variant: "contained", onClick: act, disabled: busy || !complete, children: verb })] })] }));
}
/** What would happen, found by rehearsal from the board as it stands. */
function LookAhead({ change }) {
    const effect = useQuery({
        queryKey: ['what-if', change],
        queryFn: () => body(api.POST('/api/v1/what-if', { body: change })),
        retry: false,
        staleTime: 20_000,
    });
    return (_jsxs(Box, { "aria-label": "What it would do", sx: {
            my: 1,
            pl: 1.5,
            borderLeft: '4px solid',
            borderColor: 'secondary.main',
            minHeight: 52,
        }, children: [effect.isPending && (_jsx(Typography, { variant: "body2", color: "textSecondary", children: "Looking ahead\u2026" })), effect.error && (_jsx(Typography, { variant: "body2", color: "error", children: effect.error.message })), effect.data?.sentences.map((sentence) => (_jsx(Typography, { variant: "body2", sx: { py: 0.3, overflowWrap: 'anywhere' }, color: sentence.startsWith('Not possible') ? 'error' : undefined, children: sentence }, sentence)))] }));
}
