import { Autocomplete, MenuItem, TextField } from '@mui/material';
import { useState } from 'react';
import { parse } from 'yaml';
import { mono } from '../../theme';
import type { Shape } from './completion';
import { inFlow, type Plain } from './yamlText';

interface FieldProps {
  /** The key, as it stands in the text. */
  name: string;
  shape: Shape | undefined;
  value: unknown;
  /** Undefined takes the key away. */
  onValue: (value: Plain | undefined) => void;
  suggestions?: string[];
  /** What holds where nothing is said, and from where. */
  inherited?: string;
  label?: string;
  autoFocus?: boolean;
}

type Form = 'text' | 'number' | 'flag' | 'names' | 'tree';

function formOf(shape: Shape | undefined): Form {
  if (shape?.enum?.includes(true)) {
    return 'flag';
  }
  const parts = shape?.anyOf ?? [];
  if (parts.some((one) => one.type === 'string') && parts.some((one) => one.type === 'array')) {
    return 'names';
  }
  const types = [shape?.type ?? []].flat();
  if (types.includes('integer') && types.length === 1) {
    return 'number';
  }
  return types.length === 0 || types.includes('object') || types.includes('array')
    ? 'tree'
    : 'text';
}

function written(value: unknown, form: Form): string {
  if (value === undefined || value === null) {
    return '';
  }
  if (form === 'names' && Array.isArray(value)) {
    return value.join(', ');
  }
  if (form === 'flag') {
    return value === true ? 'yes' : value === false ? 'no' : String(value);
  }
  return typeof value === 'object' ? inFlow(value as Plain) : String(value);
}

/** What a text in a form stands for; throws where that cannot be read. */
function read(text: string, form: Form): Plain | undefined {
  if (text.trim() === '') {
    return undefined;
  }
  if (form === 'number') {
    return /^-?\d{1,15}$/.test(text.trim()) ? Number(text) : text;
  }
  if (form === 'names' && text.includes(',')) {
    return text
      .split(',')
      .map((one) => one.trim())
      .filter((one) => one !== '');
  }
  return form === 'tree' ? (parse(text) as Plain) : text;
}

/** One key of a definition, with its help and what could stand there. */
export function Field(props: FieldProps) {
  const { name, shape, value, onValue, suggestions = [], inherited } = props;
  const form = formOf(shape);
  const shown = written(value, form);
  const [typed, setTyped] = useState<string | null>(null);
  const [wrong, setWrong] = useState('');
  const label = props.label ?? name.replace(/-/g, ' ');
  const take = (text: string) => {
    setTyped(text);
    try {
      const found = read(text, form);
      setWrong('');
      if (found !== undefined) {
        onValue(found);
      }
    } catch {
      setWrong('this cannot be read as YAML yet');
    }
  };
  const leave = () => {
    if (typed !== null && typed.trim() === '' && value !== undefined) {
      onValue(undefined);
    }
    setTyped(null);
    setWrong('');
  };
  const help = wrong || [shape?.description, inherited].filter(Boolean).join(' ');
  const common = {
    size: 'small' as const,
    fullWidth: true,
    label,
    error: wrong !== '',
    helperText: help,
    autoFocus: props.autoFocus,
  };
  if (form === 'flag') {
    return (
      <TextField
        {...common}
        select
        value={shown}
        onChange={(e) => onValue(e.target.value === '' ? undefined : e.target.value)}
      >
        <MenuItem value="">as it is without</MenuItem>
        <MenuItem value="yes">yes</MenuItem>
        <MenuItem value="no">no</MenuItem>
      </TextField>
    );
  }
  if (suggestions.length > 0) {
    return (
      <Autocomplete
        freeSolo
        size="small"
        options={suggestions}
        inputValue={typed ?? shown}
        value={null}
        onInputChange={(_, text, why) => why === 'input' && take(text)}
        onChange={(_, text) => {
          if (typeof text === 'string') {
            onValue(read(text, form));
            setTyped(null);
          }
        }}
        onBlur={leave}
        renderInput={(params) => <TextField {...params} {...common} />}
      />
    );
  }
  return (
    <TextField
      {...common}
      value={typed ?? shown}
      multiline={form === 'tree' || shown.includes('\n')}
      onChange={(e) => take(e.target.value)}
      onBlur={leave}
      slotProps={{ htmlInput: { spellCheck: false } }}
      sx={form === 'tree' ? { '& textarea': { fontFamily: mono, fontSize: '0.86rem' } } : undefined}
    />
  );
}
