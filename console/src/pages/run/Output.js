import { jsx as _jsx, jsxs as _jsxs } from "react/jsx-runtime";
import { Box, Button, Paper, Stack, TextField, ToggleButton, ToggleButtonGroup, Typography, } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { api, body } from '../../api/client';
import { bytes } from '../../parts/time';
import { mono } from '../../theme';
/** Pieces that are read at the most for one view: beyond it, the command line has it all. */
const MOST_PIECES = 12;
async function readAll(run, attempt) {
    let text = '';
    let offset = 0;
    for (let piece = 0; piece < MOST_PIECES; piece++) {
        const got = await body(api.GET('/api/v1/runs/{id}/output', {
            params: { path: { id: run }, query: { attempt, offset } },
        }));
        text += got.text;
        if (got.next === offset) {
            return { text, total: got.total, kept: got.kept, whole: true };
        }
        offset = got.next;
    }
    return { text, total: 0, kept: 0, whole: false };
}
/** The lines that hold some letters, each with its number; what to say where none does. */
export function matching(text, wanted) {
    const lines = text
        .split('\n')
        .map((line, index) => ({ line, number: index + 1 }))
        .filter((one) => one.line.toLowerCase().includes(wanted.toLowerCase()));
    return lines.length === 0
        ? `No line has “${wanted}”.`
        : lines.map((one) => `${String(one.number).padStart(5)}  ${one.line}`).join('\n');
}
/** The output of an attempt, growing as it comes. */
export function Output({ run, attempts }) {
    const last = attempts[attempts.length - 1]?.number ?? 0;
    const [chosen, setChosen] = useState(0);
    const attempt = chosen || last;
    const end = useRef(null);
    const output = useQuery({
        queryKey: ['output', run, attempt],
        queryFn: () => readAll(run, attempt),
        enabled: attempt > 0,
        refetchInterval: 5_000,
    });
    const text = output.data?.text ?? '';
    const [wanted, setWanted] = useState('');
    const found = wanted === '' ? text : matching(text, wanted);
    useEffect(() => {
        const box = end.current?.parentElement;
        if (box && box.scrollHeight - box.scrollTop - box.clientHeight < 160) {
            box.scrollTop = box.scrollHeight;
        }
    }, [text]);
    const download = () => {
        const link = document.createElement('a');
        link.href = URL.createObjectURL(new Blob([text], { type: 'text/plain' }));
        link.download = `run-${run}-attempt-${attempt}.txt`;
        link.click();
        URL.revokeObjectURL(link.href);
    };
    return (_jsxs(Paper, { sx: { overflow: 'hidden' }, children: [_jsxs(Stack, { direction: "row", sx: { px: 2, py: 1, alignItems: 'center', gap: 2 }, children: [_jsx(Typography, { variant: "h2", sx: { flex: 1 }, children: "Output" }), attempts.length > 1 && (_jsx(ToggleButtonGroup, { size: "small", exclusive: true, value: attempt, "aria-label": "Attempt", onChange: (_, value) => value && setChosen(value), children: attempts.map((one) => (_jsxs(ToggleButton, { value: one.number, children: ["Attempt ", one.number] }, one.number))) })), text && (_jsx(TextField, { size: "small", label: "Search", value: wanted, onChange: (e) => setWanted(e.target.value), sx: { width: 200 } })), text && (_jsx(Button, { size: "small", onClick: download, children: "Download" }))] }), _jsxs(Box, { tabIndex: 0, "aria-label": "Output", sx: {
                    m: 0,
                    px: 2,
                    py: 1.5,
                    height: 300,
                    overflow: 'auto',
                    fontFamily: mono,
                    fontSize: '0.84rem',
                    whiteSpace: 'pre-wrap',
                    overflowWrap: 'anywhere',
                    color: '#dfe9ee',
                    background: '#0d2130',
                }, children: [found || (attempt === 0 ? 'It has not run yet.' : 'No output so far.'), output.data && output.data.total > output.data.kept && output.data.kept > 0 && (_jsxs(Box, { sx: { color: '#e6b655' }, children: ["[", bytes(output.data.kept), " of ", bytes(output.data.total), " are kept]"] })), output.data?.whole === false && (_jsx(Box, { sx: { color: '#e6b655' }, children: "[there is more; read it with purser log]" })), _jsx("div", { ref: end })] })] }));
}
