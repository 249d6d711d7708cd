import { Box, Typography } from '@mui/material';
import { useState } from 'react';
import type { Schemas } from '../../api/client';
import { useNow } from '../../api/live';
import { WithReason } from '../../parts/WithReason';
import { clock } from '../../parts/time';
import { PreviewShown } from '../changes/PreviewShown';
import type { Taking } from './taking';

/** What a parcel would change here, the button that takes it, and what became of it. */
export function Taken({ taking, mayPublish }: { taking: Taking; mayPublish: boolean }) {
  const [reason, setReason] = useState('');
  const { view, done, doing } = taking;
  const ready = view?.preview.sound && view.preview.definitions.length > 0;
  return (
    <>
      {doing.problem && (
        <Typography role="alert" color="error" sx={{ whiteSpace: 'pre-wrap' }}>
          {doing.problem}
        </Typography>
      )}
      {view && <About view={view} />}
      {view && <PreviewShown preview={view.preview} />}
      {ready && mayPublish && (
        <WithReason
          reason={reason}
          onReason={setReason}
          busy={doing.busy}
          onAct={() => void taking.take(reason)}
        >
          Take all of it
        </WithReason>
      )}
      {done && (
        <Typography role="status">
          {done.revision > 0
            ? `Revision ${done.revision} is in force: ${done.added.length} added, ${done.changed.length} changed. Publication ${done.revision} can be undone as a whole.`
            : 'Nothing was changed: all of it is in force as it is.'}
        </Typography>
      )}
    </>
  );
}

function About({ view }: { view: Schemas['ParcelPreview'] }) {
  const now = useNow(60_000);
  const { about } = view;
  return (
    <Box>
      <Typography>
        {about.definitions.length} {about.definitions.length === 1 ? 'definition' : 'definitions'}
        {about.from && ` from ${about.from}`}, revision {about.revision}, packed by {about.packedBy}{' '}
        {clock(about.packed, now)}
        {about.signedBy ? `, signed by ${about.signedBy}` : ', not signed'}
      </Typography>
      {view.missing.length > 0 && (
        <Typography color="error">
          Missing here; define it, or say what it is called here: {view.missing.join(', ')}
        </Typography>
      )}
    </Box>
  );
}
