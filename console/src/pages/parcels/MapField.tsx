import { TextField } from '@mui/material';
import { mono } from '../../theme';

interface MapFieldProps {
  map: string;
  onMap: (map: string) => void;
}

/** What is called otherwise here than where definitions come from. */
export function MapField({ map, onMap }: MapFieldProps) {
  return (
    <TextField
      multiline
      minRows={2}
      maxRows={8}
      label="What is called otherwise here (YAML)"
      value={map}
      helperText="hosts, host-groups, connections, calendars, recipients: old name: new name; parameters: stream: { name: value }"
      onChange={(e) => onMap(e.target.value)}
      slotProps={{ htmlInput: { spellCheck: false } }}
      sx={{ '& textarea': { fontFamily: mono, fontSize: '0.86rem' } }}
    />
  );
}
