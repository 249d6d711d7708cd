import { jsx as _jsx, jsxs as _jsxs, Fragment as _Fragment } from "react/jsx-runtime";
import { Button, Dialog, DialogActions, DialogContent, DialogTitle, Menu, MenuItem, TextField, } from '@mui/material';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, body } from '../../api/client';
/** Filters under names of one's own. */
export function KeptFilters({ current, onChoose }) {
    const queries = useQueryClient();
    const [menu, setMenu] = useState(null);
    const [naming, setNaming] = useState(false);
    const [name, setName] = useState('');
    const kept = useQuery({
        queryKey: ['filters'],
        queryFn: () => body(api.GET('/api/v1/filters')),
    });
    const all = kept.data ?? [];
    const shown = all.find((one) => one.filter === current);
    const keep = async () => {
        await api.PUT('/api/v1/filters/{name}', {
            params: { path: { name } },
            body: { name, filter: current },
        });
        setNaming(false);
        await queries.invalidateQueries({ queryKey: ['filters'] });
    };
    const forget = async () => {
        if (shown) {
            await api.DELETE('/api/v1/filters/{name}', { params: { path: { name: shown.name } } });
            setMenu(null);
            await queries.invalidateQueries({ queryKey: ['filters'] });
        }
    };
    return (_jsxs(_Fragment, { children: [_jsx(Button, { variant: "outlined", "aria-haspopup": "menu", onClick: (e) => setMenu(e.currentTarget), children: shown ? `Filter: ${shown.name}` : 'Kept filters' }), _jsxs(Menu, { anchorEl: menu, open: menu !== null, onClose: () => setMenu(null), children: [all.map((one) => (_jsx(MenuItem, { selected: one === shown, onClick: () => {
                            setMenu(null);
                            onChoose(one.filter);
                        }, children: one.name }, one.name))), all.length === 0 && _jsx(MenuItem, { disabled: true, children: "None is kept yet" }), !shown && (_jsx(MenuItem, { onClick: () => {
                            setMenu(null);
                            setNaming(true);
                        }, children: "Keep this one\u2026" })), shown && _jsxs(MenuItem, { onClick: forget, children: ["Forget \u201C", shown.name, "\u201D"] })] }), _jsxs(Dialog, { open: naming, onClose: () => setNaming(false), children: [_jsx(DialogTitle, { children: "Keep this filter" }), _jsx(DialogContent, { children: _jsx(TextField, { autoFocus: true, label: "Under which name", value: name, onChange: (e) => setName(e.target.value), onKeyDown: (e) => e.key === 'Enter' && name.trim() && keep(), sx: { mt: 1, minWidth: 320 } }) }), _jsxs(DialogActions, { children: [_jsx(Button, { onClick: () => setNaming(false), children: "Leave it" }), _jsx(Button, { variant: "contained", disabled: name.trim() === '', onClick: keep, children: "Keep" })] })] })] }));
}
