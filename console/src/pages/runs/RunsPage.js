import { jsx as _jsx, jsxs as _jsxs, Fragment as _Fragment } from "react/jsx-runtime";
import { Box, Button, Checkbox, Menu, MenuItem, Paper, Stack, TextField, Typography, } from '@mui/material';
import { keepPreviousData, useInfiniteQuery, useQueryClient } from '@tanstack/react-query';
import { useWindowVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useMemo, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { api, body } from '../../api/client';
import { useNow } from '../../api/live';
import { ActionDialog } from '../../parts/ActionDialog';
import { actionName } from '../../parts/actions';
import { Notice, Waiting } from '../../parts/Notice';
import { StateMark } from '../../parts/StateMark';
import { clock, span } from '../../parts/time';
import { addressOf, filterOf, queryOf } from './filter';
import { KeptFilters } from './KeptFilters';
const PAGE = 200;
const ROW = 44;
const COLUMNS = '44px 128px minmax(240px, 2fr) minmax(200px, 1.4fr) 84px 84px 84px 92px';
const STATES = [
    'planned',
    'waiting',
    'starting',
    'running',
    'succeeded',
    'failed',
    'cancelled',
    'skipped',
];
/** All runs that are like something, many selected at once for an action. */
export function RunsPage({ today, mayAct }) {
    const [address, setAddress] = useSearchParams();
    const filter = useMemo(() => filterOf(address, today), [address, today]);
    const [selected, setSelected] = useState(new Set());
    const found = useInfiniteQuery({
        queryKey: ['runs', queryOf(filter)],
        queryFn: ({ pageParam }) => body(api.GET('/api/v1/runs', {
            params: { query: { ...queryOf(filter), cursor: pageParam, limit: PAGE } },
        })),
        initialPageParam: '',
        getNextPageParam: (last) => last.next || undefined,
        placeholderData: keepPreviousData,
        refetchInterval: (query) => ((query.state.data?.pages.length ?? 0) > 3 ? false : 10_000),
    });
    const change = (part) => {
        setSelected(new Set());
        setAddress(addressOf({ ...filter, ...part }, today), { replace: true });
    };
    const runs = useMemo(() => found.data?.pages.flatMap((page) => page.runs) ?? [], [found.data]);
    const total = found.data?.pages[0]?.total ?? 0;
    return (_jsxs(Stack, { sx: { gap: 1.5 }, children: [_jsxs(Stack, { direction: "row", sx: { alignItems: 'baseline', gap: 2 }, children: [_jsx(Typography, { variant: "h1", children: "Runs" }), _jsx(Typography, { color: "textSecondary", sx: { flex: 1 }, children: found.data ? `${total.toLocaleString('en')} like this` : '' }), _jsx(KeptFilters, { current: addressOf(filter, today), onChoose: (kept) => {
                            setSelected(new Set());
                            setAddress(kept);
                        } })] }), _jsx(Filters, { filter: filter, onChange: change }), mayAct && (_jsx(Selection, { runs: runs.filter((run) => selected.has(run.id)), onClear: () => setSelected(new Set()) })), !found.data ? (_jsx(Waiting, { error: found.error, what: "Runs" })) : runs.length === 0 ? (_jsx(Notice, { title: "No run is like this", text: "Take a part out of the filter above." })) : (_jsx(Rows, { runs: runs, total: total, selected: selected, onSelect: setSelected, mayAct: mayAct, more: found.hasNextPage && !found.isFetchingNextPage ? found.fetchNextPage : undefined }))] }));
}
function Filters({ filter, onChange }) {
    return (_jsxs(Paper, { component: "section", "aria-label": "Filter", sx: { p: 1.2, display: 'flex', flexWrap: 'wrap', gap: 1, alignItems: 'center' }, children: [_jsx(Words, { label: "Name or title, with *", value: filter.text, width: 196, onChange: (text) => onChange({ text }) }), _jsxs(TextField, { select: true, size: "small", label: "State", value: filter.state, onChange: (e) => onChange({ state: e.target.value }), sx: { width: 124 }, slotProps: { inputLabel: { shrink: true }, select: { displayEmpty: true } }, children: [_jsx(MenuItem, { value: "", children: "any" }), _jsx(MenuItem, { value: "waiting,starting,running", children: "open now" }), STATES.map((state) => (_jsx(MenuItem, { value: state, children: state }, state)))] }), _jsx(Words, { label: "Stream", value: filter.stream, width: 126, onChange: (stream) => onChange({ stream }) }), _jsx(Words, { label: "Department", value: filter.department, width: 126, onChange: (department) => onChange({ department }) }), _jsx(Words, { label: "Tag", value: filter.tag, width: 92, onChange: (tag) => onChange({ tag }) }), _jsx(Words, { label: "Host", value: filter.host, width: 100, onChange: (host) => onChange({ host }) }), _jsx(TextField, { size: "small", type: "date", label: "From date", value: filter.date || filter.from, onChange: (e) => onChange({ date: '', from: e.target.value, to: filter.to || filter.date }), slotProps: { inputLabel: { shrink: true } }, sx: { width: 150 } }), _jsx(TextField, { size: "small", type: "date", label: "To date", sx: { width: 150 }, value: filter.date || filter.to, onChange: (e) => onChange({ date: '', from: filter.from || filter.date, to: e.target.value }), slotProps: { inputLabel: { shrink: true } } })] }));
}
/** A text that counts a moment after the last letter. */
function Words({ label, value, width, onChange }) {
    const [text, setText] = useState(value);
    const [last, setLast] = useState(value);
    if (value !== last) {
        setLast(value);
        setText(value);
    }
    useEffect(() => {
        if (text === value) {
            return undefined;
        }
        const timer = setTimeout(() => onChange(text), 300);
        return () => clearTimeout(timer);
    }, [text, value, onChange]);
    return (_jsx(TextField, { size: "small", label: label, value: text, onChange: (e) => setText(e.target.value), sx: { width }, slotProps: { inputLabel: { shrink: true } } }));
}
/** What can be done to all that are selected. */
function Selection({ runs, onClear }) {
    const queries = useQueryClient();
    const [menu, setMenu] = useState(null);
    const [action, setAction] = useState('');
    const [told, setTold] = useState([]);
    const possible = new Map();
    runs.forEach((run) => run.actions.forEach((one) => possible.set(one, (possible.get(one) ?? 0) + 1)));
    const act = async (reason, change) => {
        const results = await body(api.POST('/api/v1/actions', { body: { ...change, reason } }));
        const refused = results.filter((one) => !one.done);
        setTold([
            `${results.length - refused.length} of ${results.length} done`,
            ...refused.slice(0, 5).map((one) => `${one.reference}: ${one.refusal}`),
        ]);
        onClear();
        await queries.invalidateQueries({ queryKey: ['runs'] });
    };
    return (_jsxs(Stack, { direction: "row", sx: { gap: 1.5, alignItems: 'center', minHeight: 36 }, children: [_jsx(Typography, { variant: "body2", color: "textSecondary", children: runs.length === 0 ? 'Select runs to act on many at once.' : `${runs.length} selected` }), runs.length > 0 && (_jsxs(_Fragment, { children: [_jsx(Button, { size: "small", variant: "contained", "aria-haspopup": "menu", onClick: (e) => setMenu(e.currentTarget), children: "Act on them" }), _jsx(Button, { size: "small", onClick: onClear, children: "Select none" })] })), told.length > 0 && runs.length === 0 && (_jsx(Typography, { variant: "body2", role: "status", children: told.join('; ') })), _jsx(Menu, { anchorEl: menu, open: menu !== null, onClose: () => setMenu(null), children: [...possible].map(([name, count]) => (_jsxs(MenuItem, { onClick: () => {
                        setMenu(null);
                        setAction(name);
                    }, children: [actionName(name), " (", count, " of ", runs.length, ")"] }, name))) }), action && (_jsx(ActionDialog, { title: `${actionName(action)}: ${runs.length} runs?`, verb: actionName(action), change: { action, runs: runs.map((run) => run.id) }, onClose: () => setAction(''), onDo: act }))] }));
}
function Rows({ runs, total, selected, onSelect, mayAct, more }) {
    const now = useNow(5_000);
    const rows = useWindowVirtualizer({
        count: runs.length,
        estimateSize: () => ROW,
        overscan: 12,
        scrollMargin: 290,
    });
    const items = rows.getVirtualItems();
    const last = items[items.length - 1]?.index ?? 0;
    useEffect(() => {
        if (more && last > runs.length - 60) {
            more();
        }
    }, [more, last, runs.length]);
    const toggle = (run) => {
        const next = new Set(selected);
        if (!next.delete(run.id)) {
            next.add(run.id);
        }
        onSelect(next);
    };
    const all = runs.length > 0 && runs.every((run) => selected.has(run.id));
    return (_jsxs(Paper, { role: "table", "aria-label": "Runs", "aria-rowcount": total, children: [_jsxs(Box, { role: "row", sx: {
                    display: 'grid',
                    gridTemplateColumns: COLUMNS,
                    gap: 1.5,
                    px: 1.5,
                    py: 0.5,
                    alignItems: 'center',
                    fontWeight: 650,
                }, children: [mayAct ? (_jsx(Checkbox, { size: "small", checked: all, indeterminate: selected.size > 0 && !all, onChange: () => onSelect(all ? new Set() : new Set(runs.map((run) => run.id))), slotProps: { input: { 'aria-label': 'Select all that are loaded' } } })) : (_jsx("span", {})), ['State', 'Run', 'How it stands', 'Due', 'Began', 'Ended', 'Host'].map((name) => (_jsx(Typography, { role: "columnheader", variant: "body2", sx: { fontWeight: 650 }, children: name }, name)))] }), _jsx(Box, { sx: { position: 'relative', height: rows.getTotalSize() }, children: items.map((item) => {
                    const run = runs[item.index];
                    return run ? (_jsx(Row, { run: run, now: now, top: item.start - rows.options.scrollMargin, selected: selected.has(run.id), onToggle: mayAct ? () => toggle(run) : undefined }, run.id)) : null;
                }) })] }));
}
function Row({ run, now, top, selected, onToggle }) {
    const took = run.started && run.ended ? span(Date.parse(run.ended) - Date.parse(run.started)) : '';
    return (_jsxs(Box, { role: "row", "aria-selected": selected, sx: {
            position: 'absolute',
            top,
            left: 0,
            right: 0,
            height: ROW,
            display: 'grid',
            gridTemplateColumns: COLUMNS,
            gap: 1.5,
            px: 1.5,
            alignItems: 'center',
            borderTop: '1px solid',
            borderColor: 'divider',
            background: selected ? 'rgba(201,154,58,0.14)' : undefined,
            '& > *': { overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' },
        }, children: [onToggle ? (_jsx(Checkbox, { size: "small", checked: selected, onChange: onToggle, slotProps: { input: { 'aria-label': `Select ${run.reference}` } } })) : (_jsx("span", {})), _jsx(StateMark, { state: run.state, held: run.hold !== '' }), _jsxs(Box, { children: [_jsx(Link, { to: `/runs/${run.id}`, style: { color: 'inherit', fontWeight: 600 }, children: run.title }), _jsx(Typography, { variant: "body2", color: "textSecondary", sx: { fontSize: '0.78rem' }, noWrap: true, children: run.reference })] }), _jsx(Typography, { variant: "body2", title: run.sentence, children: run.sentence }), _jsx(Typography, { variant: "body2", children: clock(run.due, now, false) }), _jsx(Typography, { variant: "body2", children: clock(run.started, now, false) }), _jsx(Typography, { variant: "body2", title: took, children: run.ended
                    ? clock(run.ended, now, false)
                    : run.expectedEnd
                        ? `~${clock(run.expectedEnd, now, false)}`
                        : '' }), _jsx(Typography, { variant: "body2", children: run.host })] }));
}
