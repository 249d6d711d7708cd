import { Box, Dialog, InputBase, Typography } from '@mui/material';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import { api, body } from '../api/client';
import { streamAddress } from '../pages/streams/address';
import { StateIcon } from './StateMark';

interface Found {
  kind: string;
  name: string;
  title: string;
  state: string;
  to: string;
}

interface PaletteProps {
  open: boolean;
  pages: { path: string; name: string }[];
  onClose: () => void;
}

/** Where something found leads. */
export function addressOfFound(kind: string, name: string, run: number): string {
  switch (kind) {
    case 'run':
      return `/runs/${run}`;
    case 'stream':
      return streamAddress(name);
    case 'job':
      return `${streamAddress(name.slice(0, name.lastIndexOf('/')))}?as=table`;
    case 'host':
      return '/hosts';
    case 'capacity':
      return '/capacity';
    case 'file-watch':
      return `/files?view=arrivals&watch=${encodeURIComponent(name)}`;
    default:
      return '/calendars';
  }
}

/** Finds any stream, job, run or page by a few letters: Ctrl K, letters, Enter. */
export function Palette({ open, pages, onClose }: PaletteProps) {
  const go = useNavigate();
  const [text, setText] = useState('');
  const [at, setAt] = useState(0);
  const asked = useQuery({
    queryKey: ['find', text],
    queryFn: () => body(api.GET('/api/v1/find', { params: { query: { text } } })),
    enabled: open && text.trim() !== '',
    placeholderData: keepPreviousData,
  });
  const found: Found[] = [
    ...pages
      .filter((page) => page.name.toLowerCase().includes(text.trim().toLowerCase()))
      .map((page) => ({ kind: 'page', name: page.name, title: '', state: '', to: page.path })),
    ...(text.trim() === '' ? [] : (asked.data ?? [])).map((one) => ({
      ...one,
      to: addressOfFound(one.kind, one.name, one.run),
    })),
  ];
  const chosen = Math.min(at, Math.max(found.length - 1, 0));
  useEffect(() => {
    document.getElementById(`found-${chosen}`)?.scrollIntoView({ block: 'nearest' });
  }, [chosen]);
  const leave = () => {
    setText('');
    setAt(0);
    onClose();
  };
  const open1 = (one: Found | undefined) => {
    if (one) {
      leave();
      go(one.to);
    }
  };
  return (
    <Dialog
      open={open}
      onClose={leave}
      fullWidth
      maxWidth="sm"
      slotProps={{ paper: { sx: { position: 'absolute', top: 80, m: 0 } } }}
    >
      <InputBase
        autoFocus
        fullWidth
        placeholder="A few letters of a stream, job, run or page"
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          setAt(0);
        }}
        onKeyDown={(e) => {
          if (e.key === 'ArrowDown' || e.key === 'ArrowUp') {
            e.preventDefault();
            const by = e.key === 'ArrowDown' ? 1 : -1;
            setAt((chosen + by + found.length) % Math.max(found.length, 1));
          } else if (e.key === 'Enter') {
            open1(found[chosen]);
          }
        }}
        inputProps={{
          role: 'combobox',
          'aria-expanded': true,
          'aria-controls': 'found',
          'aria-label': 'Find',
          'aria-activedescendant': `found-${chosen}`,
        }}
        sx={{
          px: 2,
          py: 1.5,
          fontSize: '1.1rem',
          borderBottom: '1px solid',
          borderColor: 'divider',
        }}
      />
      <Box id="found" role="listbox" sx={{ maxHeight: 420, overflow: 'auto' }}>
        {found.map((one, index) => (
          <Box
            key={`${one.kind} ${one.name}`}
            id={`found-${index}`}
            role="option"
            aria-selected={index === chosen}
            onClick={() => open1(one)}
            onMouseMove={() => setAt(index)}
            sx={{
              display: 'grid',
              gridTemplateColumns: '96px 1fr auto',
              gap: 1.5,
              px: 2,
              py: 0.8,
              cursor: 'pointer',
              background: index === chosen ? 'action.hover' : undefined,
              borderLeft: '4px solid',
              borderColor: index === chosen ? 'secondary.main' : 'transparent',
            }}
          >
            <Typography variant="body2" color="textSecondary">
              {one.kind.replace('-', ' ')}
            </Typography>
            <Box sx={{ minWidth: 0 }}>
              <Typography noWrap>{one.title || one.name}</Typography>
              {one.title && (
                <Typography variant="body2" color="textSecondary" noWrap>
                  {one.name}
                </Typography>
              )}
            </Box>
            <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.6 }}>
              {one.state && <StateIcon state={one.state} />}
              <Typography variant="body2">{one.state}</Typography>
            </Box>
          </Box>
        ))}
        {found.length === 0 && (
          <Typography sx={{ p: 2 }} color="textSecondary">
            Nothing has these letters.
          </Typography>
        )}
      </Box>
    </Dialog>
  );
}
