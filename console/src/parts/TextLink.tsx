import { Link as MuiLink } from '@mui/material';
import type { ReactNode } from 'react';
import { Link } from 'react-router';

/** A link in a line of text. */
export function TextLink({ to, children }: { to: string; children: ReactNode }) {
  return (
    <MuiLink component={Link} to={to}>
      {children}
    </MuiLink>
  );
}
