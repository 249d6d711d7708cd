import { Button, Stack, Typography } from '@mui/material';
import type { Schemas } from '../../api/client';
import type { Kept } from './useDraft';

/** What somebody may do with a draft that another holds. */
export function Others({ kept, onCopied }: { kept: Kept; onCopied: (copy: number) => void }) {
  const act = async (action: 'take over' | 'copy') => {
    const done = await kept.act({
      action,
      with: [],
      version: kept.draft?.version ?? 0,
      reason: '',
    });
    if (done && action === 'copy') {
      onCopied(done.id);
    }
  };
  return (
    <>
      <Button variant="outlined" onClick={() => act('take over')} disabled={kept.busy}>
        Take it over
      </Button>
      <Button variant="outlined" onClick={() => act('copy')} disabled={kept.busy}>
        Copy it
      </Button>
    </>
  );
}

/** Whether somebody else agrees to a draft, where that was asked. */
export function Agreeing({
  draft,
  kept,
  me,
}: {
  draft: Schemas['DraftView'];
  kept: Kept;
  me: string;
}) {
  return (
    <Stack direction="row" sx={{ gap: 1.5, alignItems: 'center' }}>
      <Typography>
        {draft.agreed
          ? `${draft.agreedBy} has agreed to it as it is.`
          : `${draft.askedBy} asks that somebody else agrees${draft.askReason ? `: ${draft.askReason}` : '.'}`}
      </Typography>
      {!draft.agreed && draft.changedBy !== me && (
        <Button
          variant="contained"
          size="small"
          onClick={() =>
            kept.act({ action: 'agree', with: [], version: draft.version, reason: '' })
          }
        >
          I agree
        </Button>
      )}
    </Stack>
  );
}
