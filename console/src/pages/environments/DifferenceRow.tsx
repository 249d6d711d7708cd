import { Box, Checkbox, Typography } from '@mui/material';
import { useState } from 'react';
import { useNow } from '../../api/live';
import { TextLink } from '../../parts/TextLink';
import { clock } from '../../parts/time';
import { mono } from '../../theme';
import { definitionAddress } from '../definitions/address';
import { isBringable, keyOf, lookOf, type Difference } from './standing';

/** Whether it is chosen, its name, how it stands, here, there, and what differs. */
export const columns = '36px minmax(220px, 1.4fr) 190px 1fr 1fr minmax(100px, auto)';

interface DifferenceRowProps {
  one: Difference;
  chosen: boolean;
  /** Left out where nobody may choose. */
  onChoose?: (on: boolean) => void;
}

/** A definition that is not the same on both sides, with its fields where one asks for them. */
export function DifferenceRow({ one, chosen, onChoose }: DifferenceRowProps) {
  const now = useNow(60_000);
  const [open, setOpen] = useState(false);
  const kind = one.kind.replace(/-/g, ' ');
  return (
    <Box sx={{ borderTop: '1px solid', borderColor: 'divider', py: 0.5 }}>
      <Box
        sx={{
          display: 'grid',
          gridTemplateColumns: columns,
          gap: 1.5,
          alignItems: 'center',
        }}
      >
        {onChoose && isBringable(one) ? (
          <Checkbox
            size="small"
            checked={chosen}
            onChange={(e) => onChoose(e.target.checked)}
            slotProps={{ input: { 'aria-label': `Choose ${kind} ${one.name}` } }}
          />
        ) : (
          <span />
        )}
        <Box sx={{ overflowWrap: 'anywhere' }}>
          <Typography component="span" variant="body2" color="textSecondary">
            {kind}{' '}
          </Typography>
          {one.revisionHere > 0 ? (
            <TextLink to={definitionAddress(one.kind, one.name)}>{one.name}</TextLink>
          ) : (
            <b>{one.name}</b>
          )}
        </Box>
        <Standing standing={one.standing} />
        <Version
          side="here"
          revision={one.revisionHere}
          who={one.whoHere}
          at={one.atHere}
          now={now}
        />
        <Version
          side="there"
          revision={one.revisionThere}
          who={one.whoThere}
          at={one.atThere}
          now={now}
        />
        {one.fieldsInAll > 0 ? (
          <Box
            component="button"
            aria-expanded={open}
            onClick={() => setOpen(!open)}
            sx={{
              border: 0,
              background: 'none',
              color: 'primary.main',
              cursor: 'pointer',
              font: 'inherit',
              textAlign: 'left',
            }}
          >
            {open ? '▾' : '▸'} {one.fieldsInAll} {one.fieldsInAll === 1 ? 'field' : 'fields'}
          </Box>
        ) : (
          <span />
        )}
      </Box>
      {one.onItsWay.map((way) => (
        <Typography key={way} variant="body2" sx={{ pl: 6 }}>
          On its way: {way}
        </Typography>
      ))}
      {open && <Fields one={one} />}
    </Box>
  );
}

function Standing({ standing }: { standing: string }) {
  const look = lookOf(standing);
  return (
    <Box
      component="span"
      sx={(theme) => ({
        justifySelf: 'start',
        px: 1.1,
        py: 0.2,
        borderRadius: 1,
        fontSize: '0.86rem',
        fontWeight: 600,
        whiteSpace: 'nowrap',
        color: theme.states[look.colours].text,
        background: theme.states[look.colours].fill,
        border: `1.5px solid ${theme.states[look.colours].edge}`,
      })}
    >
      <span aria-hidden>{look.mark} </span>
      {standing}
    </Box>
  );
}

interface VersionProps {
  side: string;
  revision: number;
  who: string;
  at?: string;
  now: number;
}

function Version({ side, revision, who, at, now }: VersionProps) {
  return (
    <Typography variant="body2" color="textSecondary">
      {revision > 0 && at ? `revision ${revision}, ${who}, ${clock(at, now)}` : `not ${side}`}
    </Typography>
  );
}

/** What bringing it here would change. */
function Fields({ one }: { one: Difference }) {
  return (
    <Box
      component="table"
      aria-label={`What bringing ${keyOf(one)} here would change`}
      sx={{
        ml: 6,
        my: 0.5,
        borderSpacing: '12px 2px',
        fontFamily: mono,
        fontSize: '0.84rem',
        '& th': { textAlign: 'left', fontWeight: 600 },
        '& td, & th': { verticalAlign: 'top', overflowWrap: 'anywhere', whiteSpace: 'pre-wrap' },
      }}
    >
      <thead>
        <tr>
          <th>field</th>
          <th>here</th>
          <th>there</th>
        </tr>
      </thead>
      <tbody>
        {one.fields.map((field) => (
          <tr key={field.field}>
            <td>{field.field}</td>
            <td>{field.before || '(none)'}</td>
            <td>{field.after || '(none)'}</td>
          </tr>
        ))}
        {one.fieldsInAll > one.fields.length && (
          <tr>
            <td colSpan={3}>and {one.fieldsInAll - one.fields.length} more</td>
          </tr>
        )}
      </tbody>
    </Box>
  );
}
