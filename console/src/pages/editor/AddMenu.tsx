import {
  Autocomplete,
  Button,
  Checkbox,
  FormControlLabel,
  ListItemText,
  Menu,
  MenuItem,
  TextField,
} from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, body } from '../../api/client';
import { isLike } from './Canvas';
import type { Names } from './completion';
import type { Act, Editing } from './editing';
import { KINDS } from './model';
import { kindOf } from './placing';

/** New jobs by what they do; the one that is chosen may come before. */
export function AddMenu({
  state,
  act,
  names,
  onAdded,
}: {
  state: Editing;
  act: (what: Act) => void;
  names: Names;
  onAdded: () => void;
}) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [follows, setFollows] = useState(true);
  const chosen = state.chosen.length === 1 ? (state.chosen[0] ?? '') : '';
  const after = kindOf(state.seen, chosen) === 'job' ? chosen : '';
  const add = (kind: string, template = '') => {
    act({ do: 'add', kind, after: follows ? after : '', template });
    setAnchor(null);
    onAdded();
  };
  return (
    <>
      <Button size="small" variant="contained" onClick={(e) => setAnchor(e.currentTarget)}>
        Add
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {after && (
          <MenuItem onClick={() => setFollows(!follows)}>
            <FormControlLabel
              control={<Checkbox size="small" checked={follows} tabIndex={-1} />}
              label={`It waits for ${after}`}
              sx={{ pointerEvents: 'none' }}
            />
          </MenuItem>
        )}
        {Object.entries(KINDS)
          .filter(([kind]) => kind !== 'from-template')
          .map(([kind, { name, about }]) => (
            <MenuItem key={kind} onClick={() => add(kind)}>
              <ListItemText primary={name} secondary={about} />
            </MenuItem>
          ))}
        {names.templates.map((template) => (
          <MenuItem key={template} onClick={() => add('from-template', template)}>
            <ListItemText primary={`From template ${template}`} secondary="Its values follow" />
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}

interface Option {
  id: string;
  label: string;
  where: 'in this stream' | 'files' | 'of other streams';
}

/** Finds what is in the picture, and puts files and jobs of other streams into it. */
export function FindBox({
  state,
  act,
  names,
  onWanted,
  onGo,
}: {
  state: Editing;
  act: (what: Act) => void;
  names: Names;
  onWanted: (text: string) => void;
  onGo: (id: string) => void;
}) {
  const [typed, setTyped] = useState('');
  const letters = typed.replace(/\*/g, '').trim();
  const found = useQuery({
    queryKey: ['find', letters],
    queryFn: () => body(api.GET('/api/v1/find', { params: { query: { text: letters } } })),
    enabled: letters.length > 1,
  });
  const own: Option[] = state.ids.map((id) => ({
    id,
    label: titled(state, id),
    where: 'in this stream',
  }));
  const files: Option[] = names.watches.map((name) => ({
    id: `file ${name}`,
    label: `file ${name}`,
    where: 'files',
  }));
  const others: Option[] = (found.data ?? [])
    .filter((one) => ['job', 'stream'].includes(one.kind))
    .filter((one) => one.name !== state.stream.path)
    .filter((one) => !one.name.startsWith(`${state.stream.path}/`))
    .map((one) => ({
      id: one.name,
      label: one.title && one.title !== one.name ? `${one.title} · ${one.name}` : one.name,
      where: 'of other streams',
    }));
  const known = new Set(state.ids);
  const options = [...own, ...[...files, ...others].filter((one) => !known.has(one.id))];
  return (
    <Autocomplete
      size="small"
      options={options}
      groupBy={(one) => one.where}
      getOptionLabel={(one) => one.label}
      filterOptions={(all) =>
        all
          .filter(
            (one) =>
              typed === '' || one.where === 'of other streams' || isLike(typed, one.id, one.label),
          )
          .slice(0, 60)
      }
      value={null}
      inputValue={typed}
      onInputChange={(_, text) => {
        setTyped(text);
        onWanted(text);
      }}
      onChange={(_, one) => {
        if (one) {
          act(known.has(one.id) ? { do: 'choose', ids: [one.id] } : { do: 'place', id: one.id });
          onGo(one.id);
          setTyped('');
          onWanted('');
        }
      }}
      sx={{ width: 250 }}
      renderInput={(params) => <TextField {...params} label="Find, or put into the picture" />}
    />
  );
}

function titled(state: Editing, id: string): string {
  const job = state.seen.jobs.find((one) => one.name === id);
  return job && job.title !== id ? `${job.title} · ${id}` : id;
}
