import { MenuItem, TextField } from '@mui/material';

interface PickProps {
  label: string;
  value: string;
  /** What is kept, and what is read. */
  choices: [string, string][];
  width?: number;
  onPick: (value: string) => void;
}

/** One of a few. */
export function Pick({ label, value, choices, width = 130, onPick }: PickProps) {
  return (
    <TextField
      select
      size="small"
      label={label}
      value={value}
      onChange={(e) => onPick(e.target.value)}
      sx={{ width }}
      slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
    >
      {choices.map(([key, title]) => (
        <MenuItem key={key} value={key}>
          {title}
        </MenuItem>
      ))}
    </TextField>
  );
}
