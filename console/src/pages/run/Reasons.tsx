import { Box, Typography } from '@mui/material';
import type { Schemas } from '../../api/client';
import { clock } from '../../parts/time';

type Reason = Schemas['ReasonView'];

interface ReasonsProps {
  reasons: Reason[];
  now: number;
  /** What has been said above: a single reason is not said again. */
  said?: string;
}

/** What is missing, as a tree: since when, who can change it, when it is likely. */
export function Reasons({ reasons, now, said }: ReasonsProps) {
  if (reasons.length === 0) {
    return null;
  }
  return (
    <Box
      component="ul"
      sx={{ m: 0, mt: 1, pl: 2.5, borderLeft: '2px solid', borderColor: 'divider' }}
    >
      {reasons.map((reason, index) => (
        <Box component="li" key={index} sx={{ py: 0.3, listStyle: 'none' }}>
          {!(reasons.length === 1 && said?.endsWith(reason.text)) && (
            <Typography>{reason.text}</Typography>
          )}
          <Typography variant="body2" color="textSecondary">
            {facts(reason, now)}
          </Typography>
          <Reasons reasons={reason.below} now={now} />
        </Box>
      ))}
    </Box>
  );
}

function facts(reason: Reason, now: number): string {
  return [
    reason.since && `since ${clock(reason.since, now)}`,
    reason.who && `can be changed by ${reason.who}`,
    reason.expected && `likely done ${clock(reason.expected, now, false)}`,
  ]
    .filter(Boolean)
    .join(' · ');
}
