import { jsx as _jsx, jsxs as _jsxs } from "react/jsx-runtime";
import { Box, Button, Paper, Stack, TextField, Typography } from '@mui/material';
import { useState } from 'react';
import { api, Refusal } from '../../api/client';
/** Sign-in; whoever has a one-time password is asked for a new one. */
export function SignInPage({ onSignedIn }) {
    const [name, setName] = useState('');
    const [password, setPassword] = useState('');
    const [fresh, setFresh] = useState('');
    const [oneTime, setOneTime] = useState(false);
    const [problem, setProblem] = useState('');
    const submit = async (event) => {
        event.preventDefault();
        setProblem('');
        try {
            await api.POST('/api/v1/session', {
                body: { name, password, tokenLabel: '', newPassword: fresh },
            });
            onSignedIn();
        }
        catch (e) {
            setOneTime((before) => before || (e instanceof Refusal && e.status === 403));
            setProblem(e instanceof Error ? e.message : 'the service cannot be reached');
        }
    };
    return (_jsx(Box, { sx: {
            minHeight: '100vh',
            display: 'grid',
            placeItems: 'center',
            background: 'radial-gradient(circle at 30% 20%, #1d4c69, #0b1c29 70%)',
        }, children: _jsx(Paper, { component: "form", onSubmit: submit, sx: { p: 4, width: 380 }, children: _jsxs(Stack, { sx: { gap: 2 }, children: [_jsxs(Stack, { direction: "row", sx: { gap: 1.5, alignItems: 'center' }, children: [_jsx("img", { src: "/mark.svg", width: 40, height: 40, alt: "" }), _jsxs(Box, { children: [_jsx(Typography, { variant: "h1", children: "Purser" }), _jsx(Typography, { variant: "body2", color: "textSecondary", children: "Batch work on time, and the reason when not" })] })] }), _jsx(TextField, { label: "Name", value: name, autoFocus: true, autoComplete: "username", onChange: (e) => setName(e.target.value) }), _jsx(TextField, { label: "Password", type: "password", value: password, autoComplete: "current-password", onChange: (e) => setPassword(e.target.value) }), oneTime && (_jsx(TextField, { label: "New password (at least 12 characters)", type: "password", value: fresh, autoComplete: "new-password", onChange: (e) => setFresh(e.target.value) })), problem && (_jsx(Typography, { role: "alert", color: "error", variant: "body2", children: problem })), _jsx(Button, { type: "submit", variant: "contained", size: "large", disabled: !name || !password, children: "Sign in" })] }) }) }));
}
