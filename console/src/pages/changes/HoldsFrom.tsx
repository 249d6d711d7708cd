import { MenuItem, Stack, TextField } from '@mui/material';
import { DateField } from '../../parts/DateField';
import { HOLDS, isDate } from './holding';

interface HoldsFromProps {
  /** One of {@link HOLDS}, or a date as 2027-03-04. */
  from: string;
  onFrom: (from: string) => void;
}

/** From when a change holds for runs that are there. */
export function HoldsFrom({ from, onFrom }: HoldsFromProps) {
  return (
    <Stack direction="row" sx={{ gap: 1, flexWrap: 'wrap' }}>
      <TextField
        select
        size="small"
        label="It holds for"
        value={isDate(from) ? 'date' : from}
        onChange={(e) => onFrom(e.target.value)}
        sx={{ width: 230 }}
      >
        {HOLDS.map((one) => (
          <MenuItem key={one.from} value={one.from}>
            {one.text}
          </MenuItem>
        ))}
      </TextField>
      {isDate(from) && (
        <DateField
          label="From business date"
          width={230}
          value={from === 'date' ? '' : from}
          onChange={(date) => onFrom(date || 'date')}
        />
      )}
    </Stack>
  );
}
