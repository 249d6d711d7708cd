import { jsx as _jsx, jsxs as _jsxs } from "react/jsx-runtime";
import { Box } from '@mui/material';
/** That a stream is paused, until when, by whom and why. */
export function PausedMark({ pause }) {
    return (_jsxs(Box, { component: "span", title: `by ${pause.who}: ${pause.reason}`, sx: (t) => ({
            display: 'inline-flex',
            gap: 0.7,
            alignItems: 'center',
            px: 1.2,
            py: 0.2,
            borderRadius: 999,
            fontSize: '0.86rem',
            fontWeight: 600,
            color: t.states.cancelled.text,
            background: t.states.cancelled.fill,
            border: `1.5px dashed ${t.states.cancelled.edge}`,
        }), children: [_jsx("svg", { width: 12, height: 12, viewBox: "0 0 12 12", "aria-hidden": true, children: _jsx("path", { d: "M2 1h3v10H2zm5 0h3v10H7z", fill: "currentColor" }) }), "paused", pause.until ? ` until ${pause.until}` : ''] }));
}
