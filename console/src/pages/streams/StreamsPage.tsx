import { Box, Paper, Stack, TextField, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, body, type Schemas } from '../../api/client';
import { useNow } from '../../api/live';
import { Notice, Waiting } from '../../parts/Notice';
import { clock } from '../../parts/time';
import { PausedMark } from './PausedMark';
import { streamAddress } from './address';

type Stream = Schemas['StreamView'];

/** All streams: when each starts, and which are paused. */
export function StreamsPage() {
  const now = useNow(10_000);
  const [text, setText] = useState('');
  const streams = useQuery({
    queryKey: ['streams'],
    queryFn: () => body(api.GET('/api/v1/streams')),
    refetchInterval: 30_000,
  });
  if (!streams.data) {
    return <Waiting error={streams.error} what="Streams" />;
  }
  const paused = streams.data.filter((stream) => stream.pause).length;
  const shown = streams.data.filter((stream) =>
    `${stream.stream} ${stream.title} ${stream.department}`
      .toLowerCase()
      .includes(text.toLowerCase()),
  );
  return (
    <Stack sx={{ gap: 2 }}>
      <Stack direction="row" sx={{ alignItems: 'center' }}>
        <Box sx={{ flex: 1 }}>
          <Typography variant="h1">Streams</Typography>
          <Typography color="textSecondary">
            {streams.data.length} streams
            {paused > 0 && `, ${paused} paused`}
          </Typography>
        </Box>
        <TextField
          size="small"
          label="Find"
          value={text}
          onChange={(e) => setText(e.target.value)}
          sx={{ minWidth: 260 }}
        />
      </Stack>
      {shown.length === 0 ? (
        <Notice title="No stream" text="None has this in its name, title or department." />
      ) : (
        <Paper>
          {shown.map((stream) => (
            <Row key={stream.stream} stream={stream} now={now} />
          ))}
        </Paper>
      )}
    </Stack>
  );
}

function Row({ stream, now }: { stream: Stream; now: number }) {
  return (
    <Box
      component={Link}
      to={streamAddress(stream.stream)}
      sx={{
        display: 'grid',
        gridTemplateColumns: '310px 1fr 210px',
        gap: 2,
        alignItems: 'center',
        px: 2,
        py: 1.1,
        color: 'inherit',
        textDecoration: 'none',
        borderBottom: '1px solid',
        borderColor: 'divider',
        '&:hover': { background: 'rgba(127,127,127,0.08)' },
      }}
    >
      <Box>
        <Typography sx={{ fontWeight: 600 }}>{stream.title}</Typography>
        <Typography variant="body2" color="textSecondary">
          {stream.stream}
        </Typography>
      </Box>
      <Box sx={{ minWidth: 0 }}>
        {stream.schedule.length === 0 && (
          <Typography variant="body2" color="textSecondary">
            {stream.startsOn ? `started by files of ${stream.startsOn}` : 'started by people'}
          </Typography>
        )}
        {stream.schedule.map((entry) => (
          <Typography key={entry} variant="body2" noWrap title={entry}>
            {entry}
          </Typography>
        ))}
      </Box>
      <Box sx={{ textAlign: 'right' }}>
        {stream.pause ? (
          <PausedMark pause={stream.pause} />
        ) : (
          stream.next && (
            <>
              <Typography sx={{ fontWeight: 600 }}>{clock(stream.next, now, false)}</Typography>
              <Typography variant="body2" color="textSecondary">
                next start
              </Typography>
            </>
          )
        )}
      </Box>
    </Box>
  );
}
