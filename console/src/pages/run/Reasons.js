import { jsx as _jsx, jsxs as _jsxs } from "react/jsx-runtime";
import { Box, Typography } from '@mui/material';
import { clock } from '../../parts/time';
/** What is missing, as a tree: since when, who can change it, when it is likely. */
export function Reasons({ reasons, now, said }) {
    if (reasons.length === 0) {
        return null;
    }
    return (_jsx(Box, { component: "ul", sx: { m: 0, mt: 1, pl: 2.5, borderLeft: '2px solid', borderColor: 'divider' }, children: reasons.map((reason, index) => (_jsxs(Box, { component: "li", sx: { py: 0.3, listStyle: 'none' }, children: [!(reasons.length === 1 && said?.endsWith(reason.text)) && (_jsx(Typography, { children: reason.text })), _jsx(Typography, { variant: "body2", color: "textSecondary", children: facts(reason, now) }), _jsx(Reasons, { reasons: reason.below, now: now })] }, index))) }));
}
function facts(reason, now) {
    return [
        reason.since && `since ${clock(reason.since, now)}`,
        reason.who && `can be changed by ${reason.who}`,
        reason.expected && `likely done ${clock(reason.expected, now, false)}`,
    ]
        .filter(Boolean)
        .join(' · ');
}
