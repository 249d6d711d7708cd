import { jsx as _jsx, jsxs as _jsxs } from "react/jsx-runtime";
import { Box, Button, Stack, TextField, Typography, useTheme } from '@mui/material';
import { useEffect, useMemo, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { StateIcon, stateName } from '../../parts/StateMark';
import { streamAddress } from './address';
import { layout } from './layout';
const TALLEST = 540;
const LOWEST = 220;
/** Below this scale letters cannot be read: a larger graph opens where something goes on. */
const READABLE = 0.5;
const PRESSING = ['failed', 'running', 'starting', 'waiting'];
/** The most pressing job of a graph: where something has failed, goes on or waits. */
function pressing(graph) {
    const runs = PRESSING.flatMap((state) => graph.nodes.filter((one) => one.run?.state === state));
    return (runs[0] ?? graph.nodes[0])?.id ?? '';
}
/** The view on one job of a graph that is too large to be read as a whole. */
function opened(one, width, height) {
    const scale = 0.8;
    return {
        scale,
        x: width / 2 - ((one?.x ?? 0) + (one?.width ?? 0) / 2) * scale,
        y: height / 2 - ((one?.y ?? 0) + (one?.height ?? 0) / 2) * scale,
    };
}
/** A stream as a graph: drag to move, wheel or buttons to zoom, letters to find a job. */
export function Picture({ graph }) {
    const theme = useTheme();
    const made = useMemo(() => layout(graph), [graph]);
    const box = useRef(null);
    const [width, setWidth] = useState(1200);
    const [moved, setMoved] = useState(null);
    const [wanted, setWanted] = useState('');
    const [drag, setDrag] = useState(null);
    useEffect(() => {
        const measure = () => setWidth(box.current?.clientWidth ?? 1200);
        measure();
        window.addEventListener('resize', measure);
        return () => window.removeEventListener('resize', measure);
    }, []);
    const height = Math.min(TALLEST, Math.max(LOWEST, made.height * Math.min(1.15, width / made.width) + 24));
    const fit = useMemo(() => {
        const scale = Math.min(1.15, width / made.width, height / made.height);
        return {
            scale,
            x: (width - made.width * scale) / 2,
            y: (height - made.height * scale) / 2,
        };
    }, [made, width, height]);
    const [openOn] = useState(() => pressing(graph));
    const opening = fit.scale < READABLE
        ? opened(made.nodes.find((one) => one.node.id === openOn), width, height)
        : fit;
    const view = moved ?? opening;
    const zoom = (by, at = { x: width / 2, y: height / 2 }) => {
        const scale = Math.min(3, Math.max(0.05, view.scale * by));
        const ratio = scale / view.scale;
        setMoved({ scale, x: at.x - (at.x - view.x) * ratio, y: at.y - (at.y - view.y) * ratio });
    };
    const isFound = (one) => wanted !== '' &&
        `${one.node.label} ${one.node.title}`.toLowerCase().includes(wanted.toLowerCase());
    const found = made.nodes.filter(isFound);
    const goTo = (one) => {
        if (one) {
            const scale = Math.max(view.scale, 0.9);
            setMoved({
                scale,
                x: width / 2 - (one.x + one.width / 2) * scale,
                y: height / 2 - (one.y + one.height / 2) * scale,
            });
        }
    };
    return (_jsxs(Box, { children: [_jsxs(Stack, { direction: "row", sx: { gap: 1, p: 1, alignItems: 'center' }, children: [_jsx(TextField, { size: "small", label: "Find a job", value: wanted, onChange: (e) => setWanted(e.target.value), onKeyDown: (e) => e.key === 'Enter' && goTo(found[0]), sx: { width: 220 } }), _jsx(Typography, { variant: "body2", color: "textSecondary", sx: { flex: 1 }, children: wanted && `${found.length} found; Enter goes to the first` }), _jsx(Button, { size: "small", onClick: () => zoom(1.25), "aria-label": "Zoom in", children: "Closer" }), _jsx(Button, { size: "small", onClick: () => zoom(0.8), "aria-label": "Zoom out", children: "Further" }), _jsx(Button, { size: "small", onClick: () => setMoved(fit), children: "All of it" })] }), _jsx(Box, { ref: box, sx: {
                    height: height,
                    overflow: 'hidden',
                    cursor: drag ? 'grabbing' : 'grab',
                    borderTop: '1px solid',
                    borderColor: 'divider',
                }, onPointerDown: (e) => setDrag({ x: e.clientX - view.x, y: e.clientY - view.y }), onPointerMove: (e) => drag && setMoved({ ...view, x: e.clientX - drag.x, y: e.clientY - drag.y }), onPointerUp: () => setDrag(null), onPointerLeave: () => setDrag(null), onWheel: (e) => {
                    const at = e.currentTarget.getBoundingClientRect();
                    zoom(e.deltaY < 0 ? 1.1 : 0.9, { x: e.clientX - at.left, y: e.clientY - at.top });
                }, children: _jsxs("svg", { width: width, height: height, role: "group", "aria-label": `Jobs of ${graph.title}`, children: [_jsx("defs", { children: _jsx("marker", { id: "tip", viewBox: "0 0 8 8", refX: "7", refY: "4", markerWidth: "7", markerHeight: "7", orient: "auto", children: _jsx("path", { d: "M0 0 L8 4 L0 8 z", fill: theme.palette.text.secondary }) }) }), _jsxs("g", { transform: `translate(${view.x} ${view.y}) scale(${view.scale})`, children: [made.edges.map((edge, index) => (_jsxs("g", { children: [_jsx("path", { d: edge.path, fill: "none", stroke: theme.palette.text.secondary, strokeWidth: 1.4, strokeDasharray: edge.alternative ? '5 4' : undefined, opacity: 0.65, markerEnd: "url(#tip)" }), view.scale > 0.45 && edge.label !== 'succeeded' && (_jsx("text", { x: edge.labelX, y: edge.labelY, dy: -3, textAnchor: "middle", fontSize: 11, fill: theme.palette.text.primary, stroke: theme.palette.background.paper, strokeWidth: 4, paintOrder: "stroke", children: edge.alternative ? `or ${edge.label}` : edge.label }))] }, index))), made.nodes.map((one) => (_jsx(NodeBox, { placed: one, found: isFound(one), graph: graph }, one.node.id)))] })] }) }), _jsx(Typography, { variant: "body2", color: "textSecondary", sx: { px: 1.5, py: 0.8 }, children: "An arrow without a word asks for success; a broken one is one of several that will do." })] }));
}
function NodeBox({ placed, found, graph }) {
    const theme = useTheme();
    const go = useNavigate();
    const { node } = placed;
    const run = node.run;
    const state = stateName(run?.state ?? 'planned');
    const colours = theme.states[state];
    const own = node.kind !== 'other' && node.kind !== 'file';
    const open = () => {
        if (node.kind === 'stream') {
            go(`${streamAddress(node.id)}?date=${graph.date}&number=${graph.number}`);
        }
        else if (run) {
            go(`/runs/${run.id}`);
        }
        else if (node.kind === 'other') {
            go(streamAddress(node.id.slice(0, Math.max(node.id.lastIndexOf('/'), 0)) || node.id));
        }
    };
    const words = run
        ? `${run.state}${run.hold ? ', held' : ''}`
        : own
            ? 'not planned'
            : node.kind === 'file'
                ? 'file'
                : 'elsewhere';
    return (_jsxs("g", { transform: `translate(${placed.x} ${placed.y})`, role: "link", tabIndex: 0, "aria-label": `${node.title}, ${words}`, onClick: open, onKeyDown: (e) => e.key === 'Enter' && open(), onPointerDown: (e) => e.stopPropagation(), style: { cursor: 'pointer' }, children: [_jsx("title", { children: run ? `${node.title}: ${run.sentence}` : node.title }), _jsx("rect", { width: placed.width, height: placed.height, rx: node.kind === 'approval' ? 26 : 9, fill: own ? colours.fill : 'transparent', stroke: found ? '#c98a13' : own ? colours.edge : theme.palette.text.secondary, strokeWidth: found ? 4 : 1.6, strokeDasharray: own ? undefined : '4 4' }), node.kind === 'stream' && (_jsx("rect", { x: 4, y: 4, width: placed.width - 8, height: placed.height - 8, rx: 6, fill: "none", stroke: colours.edge })), run && (_jsx("g", { transform: "translate(10 8)", color: colours.text, children: _jsx(StateIcon, { state: run.state, size: 16 }) })), _jsx("text", { x: run ? 32 : 12, y: 21, fontSize: 13, fontWeight: 650, fill: own ? colours.text : theme.palette.text.primary, children: cut(node.title, run ? 23 : 26) }), _jsx("text", { x: run ? 32 : 12, y: 39, fontSize: 11, fill: own ? colours.text : theme.palette.text.secondary, opacity: 0.9, children: cut(`${node.kind === 'stream' ? 'stream · ' : ''}${words} · ${node.label.split('/').pop() ?? ''}`, 30) })] }));
}
function cut(text, most) {
    return text.length > most ? `${text.slice(0, most - 1)}…` : text;
}
