import { jsx as _jsx, jsxs as _jsxs, Fragment as _Fragment } from "react/jsx-runtime";
import { Box, Button, Paper, Stack, TextField, Typography } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, body } from '../../api/client';
import { useNow } from '../../api/live';
import { mono } from '../../theme';
import { StreamChanges } from './StreamChanges';
import { besides } from './besides';
/** A change set: what publishing it would do, side by side, before it is published. */
export function ChangesPage({ mayPublish }) {
    const [files, setFiles] = useState([{ name: 'pasted.yaml', text: '' }]);
    const [preview, setPreview] = useState();
    const [reason, setReason] = useState('');
    const [says, setSays] = useState('');
    const [problem, setProblem] = useState('');
    const queries = useQueryClient();
    const wanted = files.filter((file) => file.text.trim() !== '');
    const attempt = async (what) => {
        setProblem('');
        setSays('');
        try {
            await what();
        }
        catch (e) {
            setProblem(e instanceof Error ? e.message : String(e));
        }
    };
    const look = () => attempt(async () => setPreview(await body(api.POST('/api/v1/definitions/preview', { body: { files: wanted, days: 400 } }))));
    const publish = () => attempt(async () => {
        const result = await body(api.POST('/api/v1/definitions', {
            body: { files: wanted, reason },
            params: { header: { 'If-Match': `"${preview?.revision}"` } },
        }));
        setSays(`Published as revision ${result.revision}; ${result.runsPlanned} runs planned, ${result.runsWithdrawn} withdrawn for today and tomorrow.`);
        setPreview(undefined);
        setReason('');
        await queries.invalidateQueries();
    });
    const edit = (text) => {
        setPreview(undefined);
        setFiles([{ name: 'pasted.yaml', text }, ...files.filter((one) => one.name !== 'pasted.yaml')]);
    };
    const take = async (e) => {
        const taken = await Promise.all([...(e.target.files ?? [])].map(async (file) => ({
            name: file.name,
            text: await file.text(),
        })));
        e.target.value = '';
        await attempt(async () => {
            const yaml = taken.filter((file) => /\.ya?ml$/.test(file.name));
            const made = await Promise.all(taken.filter((file) => !yaml.includes(file)).map(async (file) => imported(file)));
            const notes = made.flatMap((one) => one.problems.map((problem) => `line ${problem.line}: ${problem.message}`));
            const pasted = files.find((file) => file.name === 'pasted.yaml')?.text ?? '';
            const texts = [pasted, ...made.map((one) => one.yaml)].filter((text) => text.trim() !== '');
            setPreview(undefined);
            setFiles([
                { name: 'pasted.yaml', text: texts.join('---\n') },
                ...files.filter((old) => old.name !== 'pasted.yaml' && !yaml.some((fresh) => fresh.name === old.name)),
                ...yaml,
            ]);
            setProblem(notes.length > 0 ? `Not all could be taken: ${notes.join('; ')}` : '');
        });
    };
    return (_jsxs(Stack, { sx: { gap: 2 }, children: [_jsxs(Box, { children: [_jsx(Typography, { variant: "h1", children: "Changes" }), _jsx(Typography, { color: "textSecondary", children: "Put definitions here and see what publishing them would add, drop or move, before it is live." })] }), _jsxs(Stack, { direction: "row", sx: { gap: 2, alignItems: 'flex-start' }, children: [_jsx(TextField, { multiline: true, minRows: 5, maxRows: 14, fullWidth: true, label: "Definitions (YAML)", value: files.find((file) => file.name === 'pasted.yaml')?.text ?? '', onChange: (e) => edit(e.target.value), slotProps: { htmlInput: { spellCheck: false } }, sx: { '& textarea': { fontFamily: mono, fontSize: '0.86rem' } } }), _jsxs(Stack, { sx: { gap: 1, minWidth: 230 }, children: [_jsxs(Button, { variant: "outlined", component: "label", children: ["Add files (YAML, .ics, crontab)", _jsx("input", { hidden: true, multiple: true, type: "file", onChange: take })] }), files
                                .filter((file) => file.name !== 'pasted.yaml')
                                .map((file) => (_jsxs(Typography, { variant: "body2", children: [file.name, ' ', _jsx(Button, { size: "small", onClick: () => {
                                            setPreview(undefined);
                                            setFiles(files.filter((one) => one !== file));
                                        }, children: "Leave out" })] }, file.name))), _jsx(Button, { variant: "contained", disabled: wanted.length === 0, onClick: look, children: "What would change?" })] })] }), problem && (_jsx(Typography, { role: "alert", color: "error", children: problem })), says && _jsx(Typography, { role: "status", children: says }), preview && _jsx(Shown, { preview: preview }), preview?.sound && preview.definitions.length > 0 && mayPublish && (_jsxs(Stack, { direction: "row", sx: { gap: 2 }, children: [_jsx(TextField, { size: "small", fullWidth: true, label: "Why (kept in the audit trail)", value: reason, onChange: (e) => setReason(e.target.value) }), _jsxs(Button, { variant: "contained", onClick: publish, sx: { whiteSpace: 'nowrap' }, children: ["Publish ", preview.definitions.length === 1 ? 'it' : `all ${preview.definitions.length}`] })] }))] }));
}
/** Definitions made from a file of another kind, and what of it could not be taken. */
async function imported(file) {
    if (file.name.endsWith('.ics')) {
        const name = file.name
            .slice(0, -4)
            .toLowerCase()
            .replace(/[^a-z0-9]+/g, '-');
        return body(api.POST('/api/v1/calendars/import', { body: { name, title: '', text: file.text } }));
    }
    const hosts = await body(api.GET('/api/v1/hosts'));
    const me = await body(api.GET('/api/v1/session'));
    return body(api.POST('/api/v1/definitions/from-crontab', {
        body: {
            text: file.text,
            prefix: 'imported',
            host: hosts[0]?.name ?? 'host',
            zone: me.zone,
        },
    }));
}
function Shown({ preview }) {
    const now = useNow(60_000);
    return (_jsxs(Stack, { sx: { gap: 1.5 }, "aria-live": "polite", children: [preview.problems.map((one) => (_jsxs(Typography, { color: one.severity === 'error' ? 'error' : undefined, children: [_jsx("b", { children: one.severity }), " ", one.file, ", line ", one.line, ", column ", one.column, ": ", one.message] }, `${one.file}:${one.line}:${one.column}:${one.message}`))), !preview.sound ? (_jsx(Typography, { variant: "h2", children: "These files are not sound: they cannot be published." })) : preview.definitions.length === 0 ? (_jsx(Typography, { variant: "h2", children: "Nothing would change: all is in force as it is." })) : (_jsxs(_Fragment, { children: [_jsx(Totals, { preview: preview }), preview.streams.map((stream) => (_jsx(StreamChanges, { stream: stream, now: now }, stream.stream))), preview.definitions.map((definition) => (_jsx(SideBySide, { definition: definition }, `${definition.kind} ${definition.name}`)))] }))] }));
}
function Totals({ preview }) {
    const totals = [
        ['gained', preview.gained, 'running'],
        ['lost', preview.lost, 'failed'],
        ['moved', preview.moved, 'waiting'],
    ];
    return (_jsxs(Stack, { direction: "row", sx: { gap: 1.5, alignItems: 'center' }, children: [totals.map(([word, count, state]) => (_jsxs(Box, { sx: (t) => ({
                    px: 2,
                    py: 0.8,
                    borderRadius: 2,
                    fontWeight: 700,
                    opacity: count === 0 ? 0.55 : 1,
                    color: t.states[state].text,
                    background: t.states[state].fill,
                    border: `1.5px solid ${t.states[state].edge}`,
                }), children: [count, " ", count === 1 ? 'run' : 'runs', " ", word] }, word))), _jsxs(Typography, { color: "textSecondary", children: ["from ", preview.from, " to ", preview.to, ", against revision ", preview.revision] })] }));
}
function SideBySide({ definition }) {
    const lines = besides(definition.before, definition.after);
    return (_jsxs(Paper, { sx: { p: 2 }, children: [_jsxs(Typography, { variant: "h2", sx: { mb: 1 }, children: [definition.kind, " ", definition.name, ": ", definition.action] }), _jsxs(Box, { sx: { display: 'grid', gridTemplateColumns: '1fr 1fr', gap: '0 12px' }, children: [_jsx(Typography, { variant: "h3", children: "in force" }), _jsx(Typography, { variant: "h3", children: "after publishing" }), lines.map((line, index) => (_jsxs(Box, { sx: { display: 'contents' }, children: [_jsx(CodeLine, { text: line.before, changed: line.changed, state: "failed" }), _jsx(CodeLine, { text: line.after, changed: line.changed, state: "running" })] }, index)))] })] }));
}
function CodeLine({ text, changed, state, }) {
    return (_jsx(Box, { component: "pre", sx: (t) => ({
            m: 0,
            px: 0.8,
            minHeight: '1.35em',
            fontFamily: mono,
            fontSize: '0.82rem',
            whiteSpace: 'pre-wrap',
            overflowWrap: 'anywhere',
            color: changed && text !== undefined ? t.states[state].text : 'inherit',
            background: changed && text !== undefined ? t.states[state].fill : 'transparent',
            opacity: text === undefined ? 0.3 : 1,
        }), children: text }));
}
