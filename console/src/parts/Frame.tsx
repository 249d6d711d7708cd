import { Box, Button, Stack, Typography } from '@mui/material';
import { useEffect, useState, type ReactNode } from 'react';
import { NavLink } from 'react-router';
import { Palette } from './Palette';

const places = [
  { to: '/', name: 'Today' },
  { to: '/runs', name: 'Runs' },
  { to: '/alerts', name: 'Alerts' },
  { to: '/files', name: 'Files' },
  { to: '/streams', name: 'Streams' },
  { to: '/month', name: 'Month' },
  { to: '/calendars', name: 'Calendars' },
  { to: '/rules', name: 'Day rules' },
  { to: '/changes', name: 'Changes' },
  { to: '/capacity', name: 'Capacity' },
  { to: '/hosts', name: 'Hosts' },
  { to: '/health', name: 'Health' },
];

interface FrameProps {
  person: string;
  role: string;
  heard: boolean;
  dark: boolean;
  onDark: () => void;
  onSignOut: () => void;
  children: ReactNode;
}

/** The bar on top of every page, and the page. */
export function Frame({ person, role, heard, dark, onDark, onSignOut, children }: FrameProps) {
  const [finding, setFinding] = useState(false);
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      const typing = e.target instanceof HTMLElement && /INPUT|TEXTAREA/.test(e.target.tagName);
      if ((e.key === 'k' && (e.ctrlKey || e.metaKey)) || (e.key === '/' && !typing)) {
        e.preventDefault();
        setFinding(true);
      }
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
  return (
    <Box sx={{ minHeight: '100vh' }}>
      <Box
        component="header"
        sx={{
          display: 'flex',
          alignItems: 'center',
          gap: 1,
          px: 2,
          height: 56,
          color: '#f6f2e9',
          background: 'linear-gradient(90deg, #0f2a3f, #17405a)',
          borderBottom: '3px solid #c99a3a',
          position: 'sticky',
          top: 0,
          zIndex: 20,
        }}
      >
        <Stack direction="row" sx={{ alignItems: 'center', gap: 1.2 }}>
          <img src="/mark.svg" width={30} height={30} alt="" />
          <Typography component="span" sx={{ fontWeight: 700, fontSize: '1.15rem' }}>
            Purser
          </Typography>
        </Stack>
        <Stack component="nav" direction="row" sx={{ gap: 0.3, flex: 1 }} aria-label="Pages">
          {places.map((place) => (
            <Box
              key={place.to}
              component={NavLink}
              to={place.to}
              end={place.to === '/'}
              sx={{
                color: 'inherit',
                textDecoration: 'none',
                px: 0.8,
                py: 0.6,
                fontSize: '0.94rem',
                whiteSpace: 'nowrap',
                borderRadius: 999,
                fontWeight: 600,
                opacity: 0.85,
                '&:hover': { background: 'rgba(255,255,255,0.1)' },
                '&.active': { background: 'rgba(255,255,255,0.16)', opacity: 1 },
              }}
            >
              {place.name}
            </Box>
          ))}
        </Stack>
        {!heard && (
          <Typography role="alert" sx={{ fontWeight: 600, color: '#ffd98a' }}>
            The service is not heard; what you see may be old
          </Typography>
        )}
        <Button color="inherit" size="small" onClick={() => setFinding(true)} title="Ctrl K">
          Find
        </Button>
        <Button color="inherit" size="small" onClick={onDark}>
          {dark ? 'Light' : 'Dark'}
        </Button>
        <Typography variant="body2" sx={{ opacity: 0.9, whiteSpace: 'nowrap' }}>
          {person}, {role}
        </Typography>
        <Button color="inherit" size="small" onClick={onSignOut} sx={{ whiteSpace: 'nowrap' }}>
          Sign out
        </Button>
      </Box>
      <Palette open={finding} pages={places} onClose={() => setFinding(false)} />
      <Box component="main" sx={{ px: 3, py: 2.5 }}>
        {children}
      </Box>
    </Box>
  );
}
