import { jsx as _jsx, jsxs as _jsxs } from "react/jsx-runtime";
import { Box, Paper, Typography } from '@mui/material';
import { useState } from 'react';
import { Link } from 'react-router';
import { chart } from './chart';
const WIDTH = 760;
const HEIGHT = 92;
/** What the run handed back; numbers as a line over earlier runs. */
export function Values({ run, values }) {
    const names = [...new Set(values.map((one) => one.name))].sort();
    if (names.length === 0) {
        return null;
    }
    return (_jsxs(Paper, { sx: { p: 2 }, children: [_jsx(Typography, { variant: "h2", sx: { mb: 1 }, children: "Handed back" }), names.map((name) => (_jsx(OneValue, { name: name, run: run, all: values.filter((v) => v.name === name) }, name)))] }));
}
function OneValue({ name, run, all }) {
    const [near, setNear] = useState(null);
    const own = all.find((one) => one.run === run);
    const points = chart(all, WIDTH, HEIGHT);
    return (_jsxs(Box, { sx: { py: 0.5 }, children: [_jsxs(Typography, { variant: "body2", children: [_jsx("b", { children: name }), " ", own ? own.value : 'none from this run yet', _jsx(Typography, { component: "span", variant: "body2", color: "textSecondary", children: near && ` · ${near.value.value} on ${near.value.reference}` })] }), points.length > 1 && (_jsxs("svg", { viewBox: `-8 -8 ${WIDTH + 16} ${HEIGHT + 16}`, width: "100%", height: HEIGHT, role: "img", "aria-label": `${name} over the last ${points.length} runs`, children: [_jsx("polyline", { points: points.map((p) => `${p.x},${p.y}`).join(' '), fill: "none", stroke: "currentColor", strokeWidth: 1.5, opacity: 0.5 }), points.map((point) => (_jsx(Link, { to: `/runs/${point.value.run}`, children: _jsx("circle", { cx: point.x, cy: point.y, r: point.value.run === run ? 6 : 3.5, fill: point.value.run === run ? '#c99a3a' : 'currentColor', onMouseEnter: () => setNear(point), onFocus: () => setNear(point), children: _jsx("title", { children: `${point.value.reference}: ${point.value.value}` }) }) }, point.value.run)))] }))] }));
}
