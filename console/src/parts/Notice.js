import { jsx as _jsx, jsxs as _jsxs } from "react/jsx-runtime";
import { Box, Typography } from '@mui/material';
/** What stands where a page cannot show what it should. */
export function Notice({ title, text }) {
    return (_jsxs(Box, { sx: { py: 6, textAlign: 'center', color: 'text.secondary' }, children: [_jsx(Typography, { variant: "h2", sx: { color: 'text.primary', mb: 0.5 }, children: title }), _jsx(Typography, { children: text })] }));
}
/** While nothing has come yet, or what went wrong instead. */
export function Waiting({ error, what }) {
    return error ? (_jsx(Notice, { title: `${what} cannot be shown`, text: error.message })) : (_jsx(Notice, { title: "One moment", text: `Asking for ${what.toLowerCase()}` }));
}
