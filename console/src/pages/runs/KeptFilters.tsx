import {
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  Menu,
  MenuItem,
  Snackbar,
  TextField,
} from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, body } from '../../api/client';
import { useDoing } from '../../parts/doing';

interface KeptFiltersProps {
  /** The filter as an address. */
  current: string;
  onChoose: (filter: string) => void;
}

/** Filters under names of one's own. */
export function KeptFilters({ current, onChoose }: KeptFiltersProps) {
  const { act, busy, problem, forget: forgetProblem } = useDoing('filters');
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  const [naming, setNaming] = useState(false);
  const [name, setName] = useState('');
  const kept = useQuery({
    queryKey: ['filters'],
    queryFn: () => body(api.GET('/api/v1/filters')),
  });
  const all = kept.data ?? [];
  const shown = all.find((one) => one.filter === current);
  const keep = async () => {
    const taken = await act(() =>
      api.PUT('/api/v1/filters/{name}', {
        params: { path: { name } },
        body: { name, filter: current },
      }),
    );
    setNaming(!taken);
  };
  const forget = async () => {
    if (shown) {
      setMenu(null);
      await act(() =>
        api.DELETE('/api/v1/filters/{name}', { params: { path: { name: shown.name } } }),
      );
    }
  };
  return (
    <>
      <Button variant="outlined" aria-haspopup="menu" onClick={(e) => setMenu(e.currentTarget)}>
        {shown ? `Filter: ${shown.name}` : 'Kept filters'}
      </Button>
      <Menu anchorEl={menu} open={menu !== null} onClose={() => setMenu(null)}>
        {all.map((one) => (
          <MenuItem
            key={one.name}
            selected={one === shown}
            onClick={() => {
              setMenu(null);
              onChoose(one.filter);
            }}
          >
            {one.name}
          </MenuItem>
        ))}
        {all.length === 0 && <MenuItem disabled>None is kept yet</MenuItem>}
        {!shown && (
          <MenuItem
            onClick={() => {
              setMenu(null);
              setNaming(true);
            }}
          >
            Keep this one…
          </MenuItem>
        )}
        {shown && <MenuItem onClick={forget}>Forget “{shown.name}”</MenuItem>}
      </Menu>
      <Snackbar open={problem !== '' && !naming} onClose={forgetProblem} message={problem} />
      <Dialog open={naming} onClose={() => setNaming(false)}>
        <DialogTitle>Keep this filter</DialogTitle>
        <DialogContent>
          <TextField
            autoFocus
            label="Under which name"
            error={problem !== ''}
            helperText={problem}
            value={name}
            onChange={(e) => setName(e.target.value)}
            onKeyDown={(e) => e.key === 'Enter' && name.trim() && keep()}
            sx={{ mt: 1, minWidth: 320 }}
          />
        </DialogContent>
        <DialogActions>
          <Button onClick={() => setNaming(false)}>Leave it</Button>
          <Button variant="contained" disabled={busy || name.trim() === ''} onClick={keep}>
            Keep
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
