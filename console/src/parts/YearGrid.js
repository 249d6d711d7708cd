import { jsx as _jsx, jsxs as _jsxs } from "react/jsx-runtime";
import { Box, Paper, Typography } from '@mui/material';
import { memo } from 'react';
import { months, weekdayOf } from './year';
/** A year, month by month, with every day and the reason on it. */
export function YearGrid({ days, on, off, strong = false, onDay }) {
    return (_jsx(Box, { sx: {
            display: 'grid',
            gridTemplateColumns: 'repeat(auto-fill, minmax(268px, 1fr))',
            gap: 1.2,
        }, children: months(days).map((month) => (_jsx(MonthCard, { month: month, on: on, off: off, strong: strong, onDay: onDay }, month.name))) }));
}
const MonthCard = memo(function MonthCard({ month, on, off, strong, onDay, }) {
    const named = month.days.filter((day) => day.name);
    return (_jsxs(Paper, { sx: { p: 1.3 }, children: [_jsx(Typography, { variant: "h3", sx: { mb: 0.5 }, children: month.name }), _jsxs(Box, { sx: { display: 'grid', gridTemplateColumns: 'repeat(7, 1fr)', gap: '3px' }, children: [['Mo', 'Tu', 'We', 'Th', 'Fr', 'Sa', 'Su'].map((day) => (_jsx(Typography, { variant: "body2", color: "textSecondary", sx: { textAlign: 'center', fontSize: '0.74rem' }, children: day }, day))), month.days.map((day, index) => (_jsx(DayCell, { day: day, word: day.on ? on : off, strong: strong, column: index === 0 ? weekdayOf(day.date) : undefined, onDay: onDay }, day.date)))] }), named.map((day) => (_jsxs(Typography, { variant: "body2", sx: { mt: 0.4, fontSize: '0.8rem' }, children: [_jsx("b", { children: Number(day.date.slice(8)) }), " ", day.name] }, day.date)))] }));
});
function DayCell({ day, word, strong, column, onDay, }) {
    const text = `${day.date}, ${word}${day.guess ? ', a guess' : ''}: ${day.reason}`;
    return (_jsx(Box, { component: onDay ? 'button' : 'div', type: onDay ? 'button' : undefined, onClick: onDay ? () => onDay(day.date) : undefined, onFocus: onDay ? () => onDay(day.date) : undefined, onMouseEnter: onDay ? () => onDay(day.date) : undefined, title: text, "aria-label": onDay ? text : undefined, "data-on": day.on, sx: (t) => {
            const holiday = day.name !== '';
            const colours = strong && day.on ? t.states.running : t.states.starting;
            return {
                gridColumnStart: column,
                font: 'inherit',
                textAlign: 'center',
                fontSize: '0.8rem',
                p: '2px 0',
                m: 0,
                cursor: onDay ? 'pointer' : 'default',
                borderRadius: '6px',
                fontWeight: holiday || (strong && day.on) ? 750 : day.on ? 600 : 400,
                color: holiday && !day.on
                    ? t.states.failed.text
                    : strong && day.on
                        ? colours.text
                        : day.on
                            ? 'text.primary'
                            : 'text.secondary',
                background: day.on
                    ? day.guess
                        ? `repeating-linear-gradient(135deg, ${colours.fill} 0 4px, transparent 4px 7px)`
                        : colours.fill
                    : holiday
                        ? t.states.failed.fill
                        : 'transparent',
                textDecoration: strong || day.on || holiday ? 'none' : 'line-through',
                border: '1.5px solid',
                borderColor: holiday
                    ? t.states.failed.edge
                    : strong && day.on
                        ? colours.edge
                        : 'transparent',
            };
        }, children: Number(day.date.slice(8)) }));
}
