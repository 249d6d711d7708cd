import { jsx as _jsx, jsxs as _jsxs } from "react/jsx-runtime";
import { Box, Paper, Typography } from '@mui/material';
import { Link } from 'react-router';
import { StateIcon, stateName } from '../../parts/StateMark';
import { span } from '../../parts/time';
function duration(run) {
    return run.started && run.ended ? Date.parse(run.ended) - Date.parse(run.started) : 0;
}
/** The durations of earlier runs as columns, newest on the right, each a link to its run. */
export function History({ run, earlier }) {
    const past = earlier.filter((one) => one.started && one.ended).reverse();
    const longest = Math.max(1, ...past.map(duration), duration(run));
    const good = past
        .filter((one) => one.state === 'succeeded')
        .map(duration)
        .sort((a, b) => a - b);
    const median = good[Math.floor(good.length / 2)];
    return (_jsxs(Paper, { sx: { p: 2 }, children: [_jsx(Typography, { variant: "h2", children: "Earlier runs" }), _jsx(Typography, { variant: "body2", color: "textSecondary", sx: { mb: 1.5 }, children: past.length === 0
                    ? 'There are none yet.'
                    : `The last ${past.length}: ${good.length} succeeded` +
                        (median ? `, half of them within ${span(median)}` : '') +
                        `; the longest took ${span(Math.max(...past.map(duration)))}.` }), _jsx(Box, { sx: { display: 'flex', alignItems: 'flex-end', gap: '4px', height: 96 }, children: past.map((one) => (_jsx(Box, { component: Link, to: `/runs/${one.id}`, title: `${one.reference}: ${one.state} in ${span(duration(one))}`, "aria-label": `${one.reference}, ${one.state}, ${span(duration(one))}`, sx: (theme) => {
                        const colours = theme.states[stateName(one.state)];
                        return {
                            flex: '1 1 0',
                            maxWidth: 30,
                            height: `${Math.max(16, (duration(one) / longest) * 92)}px`,
                            background: colours.fill,
                            border: `1.5px solid ${colours.edge}`,
                            borderRadius: '5px',
                            color: colours.text,
                            display: 'flex',
                            justifyContent: 'center',
                            overflow: 'hidden',
                        };
                    }, children: _jsx(StateIcon, { state: one.state, size: 12 }) }, one.id))) })] }));
}
