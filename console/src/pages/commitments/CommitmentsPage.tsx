import { Box, Link as Anchor, Paper, Stack, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { Link, useSearchParams } from 'react-router';
import { api, body } from '../../api/client';
import { useNow } from '../../api/live';
import { DateField } from '../../parts/DateField';
import { Notice, Waiting } from '../../parts/Notice';
import { StateMark } from '../../parts/StateMark';
import { Foretold } from './Foretold';
import { Scale } from './Scale';
import { byName, lookOf, mattersNow, pageOf, tally, type Commitment } from './standing';

/** What the business is promised of a date, for people who know no job names. */
export function CommitmentsPage({ today }: { today: string }) {
  const [query, setQuery] = useSearchParams();
  const date = query.get('date') ?? today;
  const now = useNow();
  const found = useQuery({
    queryKey: ['commitments', date],
    queryFn: () => body(api.GET('/api/v1/commitments', { params: { query: { date } } })),
    refetchInterval: 5_000,
  });
  if (!found.data) {
    return <Waiting error={found.error} what="Commitments" />;
  }
  const departments = [...new Set(found.data.map((one) => one.department))].sort();
  return (
    <Stack sx={{ gap: 2, maxWidth: 1100 }}>
      <Stack
        direction="row"
        sx={{ alignItems: 'flex-end', justifyContent: 'space-between', gap: 2, flexWrap: 'wrap' }}
      >
        <Box>
          <Typography variant="h1">Commitments</Typography>
          <Typography color="textSecondary">
            What is promised, and how it stands. On each scale: the dot is the likely end with its
            range, the full line the promise, the broken line the usual end.
          </Typography>
        </Box>
        <DateField
          label="Business date"
          value={date}
          onChange={(picked) => setQuery(picked && picked !== today ? { date: picked } : {})}
        />
      </Stack>
      {found.data.length === 0 && (
        <Notice
          title="Nothing is promised of this date"
          text="A commitment is defined in a file and published, as streams are."
        />
      )}
      {departments.map((department) => (
        <Box key={department} component="section" aria-label={department || 'No department'}>
          <Typography variant="h2" sx={{ mb: 1 }}>
            {department || 'No department'}
          </Typography>
          <Stack sx={{ gap: 1 }}>
            {byName(found.data.filter((one) => one.department === department)).map((all) => (
              <One key={all[0]?.name} all={all} now={now} />
            ))}
          </Stack>
        </Box>
      ))}
      <Foretold />
    </Stack>
  );
}

function One({ all, now }: { all: Commitment[]; now: number }) {
  const one = mattersNow(all, now);
  if (!one) {
    return null;
  }
  return (
    <Paper
      sx={{
        p: 2,
        display: 'grid',
        gap: { xs: 1, md: 3 },
        gridTemplateColumns: { xs: '1fr', md: 'minmax(0, 1.2fr) minmax(0, 1fr)' },
        alignItems: 'center',
      }}
    >
      <Box sx={{ minWidth: 0 }}>
        <Stack direction="row" sx={{ gap: 1.5, alignItems: 'center', flexWrap: 'wrap' }}>
          <StateMark state={one.standing} look={lookOf(one.standing)} />
          <Anchor component={Link} to={pageOf(one)} sx={{ fontWeight: 650 }}>
            {one.title}
          </Anchor>
        </Stack>
        <Typography sx={{ mt: 0.8 }}>{capital(one.sentence)}.</Typography>
        {all.length > 1 && (
          <Typography variant="body2" color="textSecondary">
            {all.length} times on this date: {tally(all)}
          </Typography>
        )}
      </Box>
      <Scale one={one} now={now} />
    </Paper>
  );
}

/** With a capital letter, as sentences begin. */
export function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}
