import { jsx as _jsx, jsxs as _jsxs } from "react/jsx-runtime";
import { Button, Menu, MenuItem, Stack } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api } from '../../api/client';
import { ActionDialog } from '../../parts/ActionDialog';
import { actionName, prominent } from '../../parts/actions';
/** What can be done to a run now: the usual as buttons, the rest in a menu. */
export function RunActions({ detail }) {
    const queries = useQueryClient();
    const [chosen, setChosen] = useState(null);
    const [menu, setMenu] = useState(null);
    const id = detail.run.id;
    const shown = prominent
        .flatMap((name) => detail.actions.filter((one) => one.action === name))
        .slice(0, 3);
    const rest = detail.actions.filter((one) => !shown.includes(one));
    const act = async (reason, change) => {
        await api.POST('/api/v1/runs/{id}/actions', {
            params: { path: { id } },
            body: {
                action: change.action,
                reason,
                priority: change.priority,
                startAt: change.startAt,
            },
        });
        await queries.invalidateQueries();
    };
    return (_jsxs(Stack, { direction: "row", sx: { gap: 1 }, children: [shown.map((one) => (_jsx(Button, { variant: one.action === 'approve' || one.action === 'rerun' ? 'contained' : 'outlined', onClick: () => setChosen(one), children: actionName(one.action) }, one.action))), rest.length > 0 && (_jsx(Button, { variant: "outlined", "aria-haspopup": "menu", onClick: (e) => setMenu(e.currentTarget), children: "More" })), _jsx(Menu, { anchorEl: menu, open: menu !== null, onClose: () => setMenu(null), children: rest.map((one) => (_jsx(MenuItem, { onClick: () => {
                        setMenu(null);
                        setChosen(one);
                    }, children: actionName(one.action) }, one.action))) }), chosen && (_jsx(ActionDialog, { title: `${actionName(chosen.action)}?`, verb: actionName(chosen.action), effect: chosen.effect, change: { action: chosen.action, runs: [id] }, onClose: () => setChosen(null), onDo: act }))] }));
}
