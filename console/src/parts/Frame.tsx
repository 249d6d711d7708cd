import { Box, Button, Stack, Typography } from '@mui/material';
import { useEffect, useState, type ReactNode } from 'react';
import { Link, useLocation } from 'react-router';
import { groupOf, groups, named } from '../pages/pages';
import { Bell } from './Bell';
import { Palette } from './Palette';
import { placeOf } from './time';

interface FrameProps {
  person: string;
  role: string;
  zone: string;
  /** Which this service stands for, so that nobody takes one for another; empty for none. */
  environment: string;
  heard: boolean;
  dark: boolean;
  onDark: () => void;
  onSignOut: () => void;
  children: ReactNode;
}

/** The bar on top of every page, and the page. */
export function Frame({
  person,
  role,
  zone,
  environment,
  heard,
  dark,
  onDark,
  onSignOut,
  children,
}: FrameProps) {
  const [finding, setFinding] = useState(false);
  const address = useLocation().pathname;
  const current = groupOf(address);
  const isHere = (path: string) =>
    path === '/' ? address === '/' : `${address}/`.startsWith(`${path}/`);
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
          flexWrap: 'wrap',
          gap: 1,
          px: 2,
          minHeight: 56,
          color: '#f6f2e9',
          background: 'linear-gradient(90deg, #0f2a3f, #17405a)',
          borderBottom: '3px solid #c99a3a',
          position: { xs: 'static', md: 'sticky' },
          top: 0,
          zIndex: 20,
        }}
      >
        <Stack direction="row" sx={{ alignItems: 'center', gap: 1.2 }}>
          <img src="/mark.svg" width={30} height={30} alt="" />
          <Typography component="span" sx={{ fontWeight: 700, fontSize: '1.15rem' }}>
            Purser
          </Typography>
          {environment && (
            <Typography
              component="span"
              title="The environment that this service stands for"
              sx={{
                px: 1,
                borderRadius: 1,
                border: '1px solid #c99a3a',
                color: '#ffd98a',
                fontWeight: 600,
              }}
            >
              {environment}
            </Typography>
          )}
        </Stack>
        <Stack
          component="nav"
          direction="row"
          sx={{ gap: 0.5, flex: 1, flexWrap: 'wrap' }}
          aria-label="Groups"
        >
          {groups.map((group) => (
            <Place
              key={group}
              to={named(group)[0]?.path ?? '/'}
              name={group}
              here={group === current}
            />
          ))}
        </Stack>
        {!heard && (
          <Typography role="alert" sx={{ fontWeight: 600, color: '#ffd98a' }}>
            The service is not heard; what you see may be old
          </Typography>
        )}
        <Bell />
        <Button color="inherit" size="small" onClick={() => setFinding(true)} title="Ctrl K">
          Find
        </Button>
        <Button color="inherit" size="small" onClick={onDark}>
          {dark ? 'Light' : 'Dark'}
        </Button>
        <Typography variant="body2" sx={{ opacity: 0.9, whiteSpace: 'nowrap' }}>
          {person}, {role} · {placeOf(zone)} time
        </Typography>
        <Button color="inherit" size="small" onClick={onSignOut} sx={{ whiteSpace: 'nowrap' }}>
          Sign out
        </Button>
      </Box>
      <Stack
        component="nav"
        direction="row"
        aria-label={current}
        sx={{
          gap: 0.5,
          px: 2,
          height: 40,
          alignItems: 'center',
          overflowX: 'auto',
          color: '#f6f2e9',
          background: '#12324a',
          position: 'sticky',
          top: { xs: 0, md: 56 },
          zIndex: 19,
        }}
      >
        {named(current).map((page) => (
          <Place key={page.path} to={page.path} name={page.name} here={isHere(page.path)} small />
        ))}
      </Stack>
      <Palette open={finding} pages={named()} onClose={() => setFinding(false)} />
      <Box component="main" sx={{ px: { xs: 1.5, sm: 3 }, py: 2.5 }}>
        {children}
      </Box>
    </Box>
  );
}

interface PlaceProps {
  to: string;
  name: string;
  here: boolean;
  small?: boolean;
}

/** A link to a page, or to the first one of a group. */
function Place({ to, name, here, small = false }: PlaceProps) {
  return (
    <Box
      component={Link}
      to={to}
      aria-current={here ? 'page' : undefined}
      sx={{
        color: 'inherit',
        textDecoration: 'none',
        px: 1.2,
        py: small ? 0.4 : 0.6,
        fontSize: small ? '0.92rem' : '0.98rem',
        whiteSpace: 'nowrap',
        borderRadius: 999,
        fontWeight: small ? 500 : 650,
        background: here ? 'rgba(255,255,255,0.18)' : undefined,
        '&:hover': { background: 'rgba(255,255,255,0.12)' },
        '&:focus-visible': { outline: '3px solid #e6b655', outlineOffset: -3 },
      }}
    >
      {name}
    </Box>
  );
}
