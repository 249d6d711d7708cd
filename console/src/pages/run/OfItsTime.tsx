import { Box, Button, Paper, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, body } from '../../api/client';
import { TextLink } from '../../parts/TextLink';
import { mono } from '../../theme';
import { definitionAddress } from '../definitions/address';

/** The definition by which a run was planned, which may be another by now. */
export function OfItsTime({ run }: { run: number }) {
  const [open, setOpen] = useState(false);
  const found = useQuery({
    queryKey: ['runs', run, 'definition'],
    queryFn: () => body(api.GET('/api/v1/runs/{id}/definition', { params: { path: { id: run } } })),
    enabled: open,
    retry: false,
  });
  return (
    <Paper sx={{ p: 2 }}>
      <Button size="small" onClick={() => setOpen(!open)} aria-expanded={open}>
        {open ? 'Hide its definition' : 'Its definition at the time'}
      </Button>
      {open && found.error && <Typography color="error">{found.error.message}</Typography>}
      {open && found.data && (
        <>
          <Typography variant="body2" sx={{ mt: 1 }}>
            <TextLink to={definitionAddress('stream', found.data.name)}>{found.data.name}</TextLink>
            , revision {found.data.revision}
            {found.data.inForce ? ': still in force' : ': another is in force by now'}
          </Typography>
          <Box
            component="pre"
            tabIndex={0}
            aria-label="Its definition at the time"
            sx={{
              fontFamily: mono,
              fontSize: '0.78rem',
              maxHeight: 360,
              overflow: 'auto',
              whiteSpace: 'pre-wrap',
              overflowWrap: 'anywhere',
            }}
          >
            {found.data.text}
          </Box>
        </>
      )}
    </Paper>
  );
}
