import { jsx as _jsx, jsxs as _jsxs } from "react/jsx-runtime";
import { Box, Button, Stack, Typography } from '@mui/material';
import { useEffect, useState } from 'react';
import { NavLink } from 'react-router';
import { Palette } from './Palette';
const places = [
    { to: '/', name: 'Today' },
    { to: '/runs', name: 'Runs' },
    { to: '/alerts', name: 'Alerts' },
    { to: '/streams', name: 'Streams' },
    { to: '/month', name: 'Month' },
    { to: '/calendars', name: 'Calendars' },
    { to: '/rules', name: 'Day rules' },
    { to: '/changes', name: 'Changes' },
    { to: '/capacity', name: 'Capacity' },
    { to: '/hosts', name: 'Hosts' },
];
/** The bar on top of every page, and the page. */
export function Frame({ person, role, heard, dark, onDark, onSignOut, children }) {
    const [finding, setFinding] = useState(false);
    useEffect(() => {
        const onKey = (e) => {
            const typing = e.target instanceof HTMLElement && /INPUT|TEXTAREA/.test(e.target.tagName);
            if ((e.key === 'k' && (e.ctrlKey || e.metaKey)) || (e.key === '/' && !typing)) {
                e.preventDefault();
                setFinding(true);
            }
        };
        window.addEventListener('keydown', onKey);
        return () => window.removeEventListener('keydown', onKey);
    }, []);
    return (_jsxs(Box, { sx: { minHeight: '100vh' }, children: [_jsxs(Box, { component: "header", sx: {
                    display: 'flex',
                    alignItems: 'center',
                    gap: 2,
                    px: 2.5,
                    height: 56,
                    color: '#f6f2e9',
                    background: 'linear-gradient(90deg, #0f2a3f, #17405a)',
                    borderBottom: '3px solid #c99a3a',
                    position: 'sticky',
                    top: 0,
                    zIndex: 20,
                }, children: [_jsxs(Stack, { direction: "row", sx: { alignItems: 'center', gap: 1.2 }, children: [_jsx("img", { src: "/mark.svg", width: 30, height: 30, alt: "" }), _jsx(Typography, { component: "span", sx: { fontWeight: 700, fontSize: '1.15rem' }, children: "Purser" })] }), _jsx(Stack, { component: "nav", direction: "row", sx: { gap: 0.5, flex: 1 }, "aria-label": "Pages", children: places.map((place) => (_jsx(Box, { component: NavLink, to: place.to, end: place.to === '/', sx: {
                                color: 'inherit',
                                textDecoration: 'none',
                                px: 1,
                                py: 0.6,
                                whiteSpace: 'nowrap',
                                borderRadius: 999,
                                fontWeight: 600,
                                opacity: 0.85,
                                '&:hover': { background: 'rgba(255,255,255,0.1)' },
                                '&.active': { background: 'rgba(255,255,255,0.16)', opacity: 1 },
                            }, children: place.name }, place.to))) }), !heard && (_jsx(Typography, { role: "alert", sx: { fontWeight: 600, color: '#ffd98a' }, children: "The service is not heard; what you see may be old" })), _jsx(Button, { color: "inherit", size: "small", onClick: () => setFinding(true), title: "Ctrl K", children: "Find" }), _jsx(Button, { color: "inherit", size: "small", onClick: onDark, children: dark ? 'Light' : 'Dark' }), _jsxs(Typography, { variant: "body2", sx: { opacity: 0.9 }, children: [person, ", ", role] }), _jsx(Button, { color: "inherit", size: "small", onClick: onSignOut, children: "Sign out" })] }), _jsx(Palette, { open: finding, pages: places, onClose: () => setFinding(false) }), _jsx(Box, { component: "main", sx: { px: 3, py: 2.5 }, children: children })] }));
}
