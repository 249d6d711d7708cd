import { Box, Paper, Stack, TextField, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { Link } from 'react-router';
import { api, body } from '../../api/client';
import { Notice, Waiting } from '../../parts/Notice';
import { TextLink } from '../../parts/TextLink';
import { mono } from '../../theme';
import { definitionAddress } from './address';
import { folders, type Definition, type Folder } from './folders';

const MOST_OPEN = 40;

/** All that is defined: departments as folders, what is left over, and a search over all texts. */
export function DefinitionsPage() {
  const [text, setText] = useState('');
  const wanted = useDeferredValue(text);
  const all = useQuery({
    queryKey: ['definitions', 'heads'],
    queryFn: () => body(api.GET('/api/v1/definitions', { params: { query: { texts: false } } })),
  });
  if (!all.data) {
    return <Waiting error={all.error} what="Definitions" />;
  }
  const shown = folders(all.data, wanted);
  return (
    <Stack sx={{ gap: 1 }}>
      <Stack direction="row" sx={{ alignItems: 'center', gap: 2, mb: 1 }}>
        <Box sx={{ flex: 1 }}>
          <Typography variant="h1">Definitions</Typography>
          <Typography color="textSecondary">
            {all.data.length} in force, streams by department
          </Typography>
        </Box>
        <TextField
          size="small"
          label="Find in names and texts"
          value={text}
          onChange={(e) => setText(e.target.value)}
          sx={{ minWidth: 320 }}
        />
      </Stack>
      {shown.length === 0 && (
        <Notice title="No definition" text="None has this in its name, title or department." />
      )}
      {shown.map((folder) => (
        <FolderShown key={folder.title} folder={folder} open={wanted.trim() !== ''} />
      ))}
      {wanted.trim().length > 1 ? <Lines text={wanted.trim()} /> : <LeftOver />}
      <Gone />
    </Stack>
  );
}

function FolderShown({ folder, open }: { folder: Folder; open: boolean }) {
  const [whole, setWhole] = useState(false);
  const few = whole || folder.definitions.length <= MOST_OPEN + 5;
  const shown = few ? folder.definitions : folder.definitions.slice(0, MOST_OPEN);
  const count = folder.definitions.length;
  return (
    <Paper component="details" open={open || undefined} sx={{ px: 2, py: 1 }}>
      <Box component="summary" sx={{ cursor: 'pointer', fontWeight: 700 }}>
        {folder.title}{' '}
        <Typography component="span" color="textSecondary">
          {count}
        </Typography>
      </Box>
      {shown.map((one) => (
        <Row key={`${one.kind} ${one.name}`} one={one} />
      ))}
      {!few && (
        <Box
          component="button"
          onClick={() => setWhole(true)}
          sx={{ border: 0, background: 'none', color: 'primary.main', cursor: 'pointer', p: 1 }}
        >
          and {count - shown.length} more
        </Box>
      )}
    </Paper>
  );
}

function Row({ one }: { one: Definition }) {
  const from = one.made
    ? one.made.by
      ? `row ${one.made.row} of ${one.made.by}`
      : `from ${one.made.template || one.made.templates.join(', ')}`
    : '';
  return (
    <Box
      component={Link}
      to={definitionAddress(one.kind, one.name)}
      sx={{
        display: 'grid',
        gridTemplateColumns: 'minmax(220px, 1.2fr) 1.4fr 1fr 130px',
        gap: 2,
        py: 0.6,
        color: 'inherit',
        textDecoration: 'none',
        borderTop: '1px solid',
        borderColor: 'divider',
        '&:hover': { background: 'rgba(127,127,127,0.08)' },
      }}
    >
      <Box sx={{ fontWeight: 600, overflowWrap: 'anywhere' }}>{one.name}</Box>
      <Box>{one.title === one.name ? '' : one.title}</Box>
      <Typography color="textSecondary" variant="body2">
        {from}
        {one.made && one.made.deviations.length > 0 && `, ${one.made.deviations.length} other`}
      </Typography>
      <Typography color="textSecondary" variant="body2">
        {one.usedBy.length > 0 && `used by ${one.usedBy.length}`}
      </Typography>
    </Box>
  );
}

/** Lines of all texts that have the words in them. */
function Lines({ text }: { text: string }) {
  const found = useQuery({
    queryKey: ['definitions', 'search', text],
    queryFn: () =>
      body(api.GET('/api/v1/definitions/search', { params: { query: { text, limit: 100 } } })),
  });
  if (!found.data || found.data.length === 0) {
    return null;
  }
  return (
    <Paper sx={{ px: 2, py: 1 }}>
      <Typography variant="h2">In the texts</Typography>
      {found.data.map((line) => (
        <Box
          key={`${line.kind} ${line.name} ${line.line}`}
          component={Link}
          to={definitionAddress(line.kind, line.name)}
          sx={{
            display: 'grid',
            gridTemplateColumns: 'minmax(260px, 1fr) 2fr',
            gap: 2,
            py: 0.4,
            color: 'inherit',
            textDecoration: 'none',
          }}
        >
          <span>
            {line.kind} {line.name}, line {line.line}
          </span>
          <Box component="code" sx={{ fontFamily: mono, fontSize: '0.85rem' }}>
            {line.text.trim()}
          </Box>
        </Box>
      ))}
    </Paper>
  );
}

/** What nothing uses, and what this version does not accept. */
function LeftOver() {
  const found = useQuery({
    queryKey: ['definitions', 'left-over'],
    queryFn: () => body(api.GET('/api/v1/definitions/left-over')),
  });
  if (!found.data || found.data.length === 0) {
    return null;
  }
  return (
    <Paper component="details" sx={{ px: 2, py: 1 }}>
      <Box component="summary" sx={{ cursor: 'pointer', fontWeight: 700 }}>
        Left over{' '}
        <Typography component="span" color="textSecondary">
          {found.data.length} that nothing uses, or that cannot be read any more
        </Typography>
      </Box>
      {found.data.map((one) => (
        <Typography key={`${one.kind} ${one.name}`} sx={{ py: 0.3 }}>
          <TextLink to={definitionAddress(one.kind, one.name)}>
            {one.kind} {one.name}
          </TextLink>
          : {one.says}
        </Typography>
      ))}
    </Paper>
  );
}

/** What was withdrawn, and can be brought back. */
function Gone() {
  const found = useQuery({
    queryKey: ['definitions', 'withdrawn'],
    queryFn: () => body(api.GET('/api/v1/definitions/withdrawn')),
  });
  if (!found.data || found.data.length === 0) {
    return null;
  }
  return (
    <Paper component="details" sx={{ px: 2, py: 1 }}>
      <Box component="summary" sx={{ cursor: 'pointer', fontWeight: 700 }}>
        Withdrawn{' '}
        <Typography component="span" color="textSecondary">
          {found.data.length} that can be brought back
        </Typography>
      </Box>
      {found.data.map((one) => (
        <Typography key={`${one.kind} ${one.name}`} sx={{ py: 0.3 }}>
          <TextLink to={definitionAddress(one.kind, one.name)}>
            {one.kind} {one.name}
          </TextLink>{' '}
          by {one.who}
          {one.reason && `: ${one.reason}`}
        </Typography>
      ))}
    </Paper>
  );
}
