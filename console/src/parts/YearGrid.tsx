import { Box, Paper, Typography } from '@mui/material';
import { memo, type MouseEvent } from 'react';
import { months, weekdayOf, type Month } from './year';

/** A day as the grid draws it. */
export interface GridDay {
  date: string;
  /** Whether it stands out: a business day, a day that is picked. */
  on: boolean;
  /** The name of a holiday on it, listed below its month. */
  name: string;
  /** Shown when it is pointed at or focused. */
  reason: string;
  guess: boolean;
}

interface YearGridProps {
  days: GridDay[];
  /** How a day that is on or off is called, for those who do not see colours. */
  on: string;
  off: string;
  /** The look of days that are on: a quiet tint for what is usual, a strong one for what is picked. */
  strong?: boolean;
  onDay?: (date: string) => void;
  /** A click, or Enter, on a day; with Shift for all up to it. */
  onPick?: (date: string, upTo: boolean) => void;
}

/** A year, month by month, with every day and the reason on it. */
export function YearGrid({ days, on, off, strong = false, onDay, onPick }: YearGridProps) {
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: 'repeat(auto-fill, minmax(268px, 1fr))',
        gap: 1.2,
      }}
    >
      {months(days).map((month) => (
        <MonthCard
          key={month.name}
          month={month}
          on={on}
          off={off}
          strong={strong}
          onDay={onDay}
          onPick={onPick}
        />
      ))}
    </Box>
  );
}

const MonthCard = memo(function MonthCard({
  month,
  on,
  off,
  strong,
  onDay,
  onPick,
}: {
  month: Month<GridDay>;
  on: string;
  off: string;
  strong: boolean;
  onDay?: (date: string) => void;
  onPick?: (date: string, upTo: boolean) => void;
}) {
  const named = month.days.filter((day) => day.name);
  return (
    <Paper sx={{ p: 1.3 }}>
      <Typography variant="h3" component="h2" sx={{ mb: 0.5 }}>
        {month.name}
      </Typography>
      <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(7, 1fr)', gap: '3px' }}>
        {['Mo', 'Tu', 'We', 'Th', 'Fr', 'Sa', 'Su'].map((day) => (
          <Typography
            key={day}
            variant="body2"
            color="textSecondary"
            sx={{ textAlign: 'center', fontSize: '0.74rem' }}
          >
            {day}
          </Typography>
        ))}
        {month.days.map((day, index) => (
          <DayCell
            key={day.date}
            day={day}
            word={day.on ? on : off}
            strong={strong}
            column={index === 0 ? weekdayOf(day.date) : undefined}
            onDay={onDay}
            onPick={onPick}
          />
        ))}
      </Box>
      {named.map((day) => (
        <Typography key={day.date} variant="body2" sx={{ mt: 0.4, fontSize: '0.8rem' }}>
          <b>{Number(day.date.slice(8))}</b> {day.name}
        </Typography>
      ))}
    </Paper>
  );
});

function DayCell({
  day,
  word,
  strong,
  column,
  onDay,
  onPick,
}: {
  day: GridDay;
  word: string;
  strong: boolean;
  column?: number;
  onDay?: (date: string) => void;
  onPick?: (date: string, upTo: boolean) => void;
}) {
  const button = onDay !== undefined || onPick !== undefined;
  const text = `${day.date}, ${word}${day.guess ? ', a guess' : ''}: ${day.reason}`;
  return (
    <Box
      component={button ? 'button' : 'div'}
      type={button ? 'button' : undefined}
      onClick={
        button
          ? (e: MouseEvent) => {
              onDay?.(day.date);
              onPick?.(day.date, e.shiftKey);
            }
          : undefined
      }
      onFocus={onDay ? () => onDay(day.date) : undefined}
      onMouseEnter={onDay ? () => onDay(day.date) : undefined}
      title={text}
      aria-label={button ? text : undefined}
      data-on={day.on}
      sx={(t) => {
        const holiday = day.name !== '';
        const colours = strong && day.on ? t.states.running : t.states.starting;
        return {
          gridColumnStart: column,
          font: 'inherit',
          textAlign: 'center',
          fontSize: '0.8rem',
          p: '2px 0',
          m: 0,
          cursor: button ? 'pointer' : 'default',
          borderRadius: '6px',
          fontWeight: holiday || (strong && day.on) ? 750 : day.on ? 600 : 400,
          color:
            holiday && !day.on
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
      }}
    >
      {Number(day.date.slice(8))}
    </Box>
  );
}
