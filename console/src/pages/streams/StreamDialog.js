import { jsxs as _jsxs, jsx as _jsx } from "react/jsx-runtime";
import { Button, Dialog, DialogActions, DialogContent, DialogTitle, Stack, TextField, Typography, } from '@mui/material';
import { useState } from 'react';
import { api } from '../../api/client';
const words = {
    pause: {
        title: 'Pause',
        effect: 'What has not begun is taken off the plan, and its schedule starts nothing. Runs that are under way go on.',
        date: 'Until (empty: until somebody resumes it)',
    },
    resume: {
        title: 'Resume',
        effect: 'Its schedule starts it again. What it has missed is made up or skipped as its schedule says.',
        date: '',
    },
    fill: {
        title: 'Fill in windows',
        effect: 'Windows from this date on that are not on record are planned now, in order.',
        date: 'From',
    },
};
/** Says what pausing, resuming or filling in will do, and asks for the reason. */
export function StreamDialog({ kind, stream, onClose, onDone }) {
    const [reason, setReason] = useState('');
    const [date, setDate] = useState('');
    const [problem, setProblem] = useState('');
    const word = words[kind];
    const act = async () => {
        try {
            if (kind === 'pause') {
                await api.POST('/api/v1/streams/pause', {
                    body: { stream: stream.stream, reason, until: date || undefined },
                });
            }
            else if (kind === 'resume') {
                await api.POST('/api/v1/streams/resume', { body: { stream: stream.stream, reason } });
            }
            else {
                await api.POST('/api/v1/streams/windows/fill', {
                    body: { stream: stream.stream, from: date, reason },
                });
            }
            onDone();
            onClose();
        }
        catch (e) {
            setProblem(e instanceof Error ? e.message : String(e));
        }
    };
    return (_jsxs(Dialog, { open: true, onClose: onClose, maxWidth: "sm", fullWidth: true, children: [_jsxs(DialogTitle, { children: [word.title, ": ", stream.title, "?"] }), _jsxs(DialogContent, { children: [_jsx(Typography, { sx: { mb: 2 }, children: word.effect }), _jsxs(Stack, { sx: { gap: 2 }, children: [word.date && (_jsx(TextField, { type: "date", label: word.date, value: date, onChange: (e) => setDate(e.target.value), slotProps: { inputLabel: { shrink: true } } })), _jsx(TextField, { autoFocus: true, label: "Why (kept in the audit trail)", value: reason, onChange: (e) => setReason(e.target.value) })] }), problem && (_jsx(Typography, { role: "alert", color: "error", sx: { mt: 1.5 }, children: problem }))] }), _jsxs(DialogActions, { sx: { px: 3, pb: 2 }, children: [_jsx(Button, { onClick: onClose, children: "Leave it" }), _jsx(Button, { variant: "contained", onClick: act, disabled: kind === 'fill' && !date, children: word.title })] })] }));
}
