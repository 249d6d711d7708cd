import { jsx as _jsx, jsxs as _jsxs } from "react/jsx-runtime";
import { Box, Dialog, InputBase, Typography } from '@mui/material';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import { api, body } from '../api/client';
import { streamAddress } from '../pages/streams/address';
import { StateIcon } from './StateMark';
/** Where something found leads. */
export function addressOfFound(kind, name, run) {
    switch (kind) {
        case 'run':
            return `/runs/${run}`;
        case 'stream':
            return streamAddress(name);
        case 'job':
            return `${streamAddress(name.slice(0, name.lastIndexOf('/')))}?as=table`;
        case 'host':
            return '/hosts';
        case 'capacity':
            return '/capacity';
        case 'file-watch':
            return `/runs?text=${encodeURIComponent(name)}`;
        default:
            return '/calendars';
    }
}
/** Finds any stream, job, run or page by a few letters: Ctrl K, letters, Enter. */
export function Palette({ open, pages, onClose }) {
    const go = useNavigate();
    const [text, setText] = useState('');
    const [at, setAt] = useState(0);
    const asked = useQuery({
        queryKey: ['find', text],
        queryFn: () => body(api.GET('/api/v1/find', { params: { query: { text } } })),
        enabled: open && text.trim() !== '',
        placeholderData: keepPreviousData,
    });
    const found = [
        ...pages
            .filter((page) => page.name.toLowerCase().includes(text.trim().toLowerCase()))
            .map((page) => ({ kind: 'page', name: page.name, title: '', state: '', to: page.to })),
        ...(text.trim() === '' ? [] : (asked.data ?? [])).map((one) => ({
            ...one,
            to: addressOfFound(one.kind, one.name, one.run),
        })),
    ];
    const chosen = Math.min(at, Math.max(found.length - 1, 0));
    useEffect(() => {
        document.getElementById(`found-${chosen}`)?.scrollIntoView({ block: 'nearest' });
    }, [chosen]);
    const leave = () => {
        setText('');
        setAt(0);
        onClose();
    };
    const open1 = (one) => {
        if (one) {
            leave();
            go(one.to);
        }
    };
    return (_jsxs(Dialog, { open: open, onClose: leave, fullWidth: true, maxWidth: "sm", slotProps: { paper: { sx: { position: 'absolute', top: 80, m: 0 } } }, children: [_jsx(InputBase, { autoFocus: true, fullWidth: true, placeholder: "A few letters of a stream, job, run or page", value: text, onChange: (e) => {
                    setText(e.target.value);
                    setAt(0);
                }, onKeyDown: (e) => {
                    if (e.key === 'ArrowDown' || e.key === 'ArrowUp') {
                        e.preventDefault();
                        const by = e.key === 'ArrowDown' ? 1 : -1;
                        setAt((chosen + by + found.length) % Math.max(found.length, 1));
                    }
                    else if (e.key === 'Enter') {
                        open1(found[chosen]);
                    }
                }, inputProps: {
                    role: 'combobox',
                    'aria-expanded': true,
                    'aria-controls': 'found',
                    'aria-label': 'Find',
                    'aria-activedescendant': `found-${chosen}`,
                }, sx: {
                    px: 2,
                    py: 1.5,
                    fontSize: '1.1rem',
                    borderBottom: '1px solid',
                    borderColor: 'divider',
                } }), _jsxs(Box, { id: "found", role: "listbox", sx: { maxHeight: 420, overflow: 'auto' }, children: [found.map((one, index) => (_jsxs(Box, { id: `found-${index}`, role: "option", "aria-selected": index === chosen, onClick: () => open1(one), onMouseMove: () => setAt(index), sx: {
                            display: 'grid',
                            gridTemplateColumns: '96px 1fr auto',
                            gap: 1.5,
                            px: 2,
                            py: 0.8,
                            cursor: 'pointer',
                            background: index === chosen ? 'action.hover' : undefined,
                            borderLeft: '4px solid',
                            borderColor: index === chosen ? 'secondary.main' : 'transparent',
                        }, children: [_jsx(Typography, { variant: "body2", color: "textSecondary", children: one.kind.replace('-', ' ') }), _jsxs(Box, { sx: { minWidth: 0 }, children: [_jsx(Typography, { noWrap: true, children: one.title || one.name }), one.title && (_jsx(Typography, { variant: "body2", color: "textSecondary", noWrap: true, children: one.name }))] }), _jsxs(Box, { sx: { display: 'flex', alignItems: 'center', gap: 0.6 }, children: [one.state && _jsx(StateIcon, { state: one.state }), _jsx(Typography, { variant: "body2", children: one.state })] })] }, `${one.kind} ${one.name}`))), found.length === 0 && (_jsx(Typography, { sx: { p: 2 }, color: "textSecondary", children: "Nothing has these letters." }))] })] }));
}
