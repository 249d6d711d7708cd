import {
  Autocomplete,
  Box,
  Button,
  Checkbox,
  FormControlLabel,
  Paper,
  Stack,
  TextField,
  Typography,
} from '@mui/material';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState, type ChangeEvent } from 'react';
import { api, body, type Schemas } from '../../api/client';
import { useNow } from '../../api/live';
import { WithReason } from '../../parts/WithReason';
import { useDoing } from '../../parts/doing';
import { clock } from '../../parts/time';
import { mono } from '../../theme';
import { PreviewShown } from '../changes/PreviewShown';
import { base64Of, bytesOf, parcelName } from './bytes';

/** What carries definitions from one environment to another: packed here, and taken here. */
export function ParcelsPage({ mayPublish }: { mayPublish: boolean }) {
  return (
    <Stack sx={{ gap: 2 }}>
      <Box>
        <Typography variant="h1">Parcels</Typography>
        <Typography color="textSecondary">
          What was tested elsewhere is brought here as a file, all of it or nothing; what is here is
          packed for another environment.
        </Typography>
      </Box>
      <Take mayPublish={mayPublish} />
      <Pack />
    </Stack>
  );
}

function Take({ mayPublish }: { mayPublish: boolean }) {
  const chooser = useRef<HTMLInputElement>(null);
  const [parcel, setParcel] = useState('');
  const [name, setName] = useState('');
  const [map, setMap] = useState('');
  const [reason, setReason] = useState('');
  const [view, setView] = useState<Schemas['ParcelPreview']>();
  const [done, setDone] = useState<Schemas['PublishResult']>();
  const doing = useDoing();
  const queries = useQueryClient();
  const look = (file: string, names: string) =>
    doing.act(async () => {
      setView(undefined);
      setDone(undefined);
      setView(
        await body(
          api.POST('/api/v1/parcels/preview', {
            body: { parcel: file, map: names, days: 400, reason: '' },
          }),
        ),
      );
    });
  const choose = async (e: ChangeEvent<HTMLInputElement>) => {
    const file = e.target.files?.[0];
    e.target.value = '';
    if (file) {
      const read = base64Of(new Uint8Array(await file.arrayBuffer()));
      setParcel(read);
      setName(file.name);
      await look(read, map);
    }
  };
  const promote = () =>
    doing.act(async () => {
      setDone(
        await body(api.POST('/api/v1/parcels', { body: { parcel, map, reason, days: 400 } })),
      );
      setView(undefined);
      await queries.invalidateQueries();
    });
  const ready = view?.preview.sound && view.preview.definitions.length > 0;
  return (
    <Paper sx={{ p: 2 }}>
      <Stack sx={{ gap: 1.5 }}>
        <Typography variant="h2">Bring a parcel here</Typography>
        <Stack direction="row" sx={{ gap: 1.5, alignItems: 'center' }}>
          <Button variant="outlined" onClick={() => chooser.current?.click()}>
            Choose a parcel
          </Button>
          <input ref={chooser} hidden type="file" aria-label="Parcel" onChange={choose} />
          <Typography>{name}</Typography>
        </Stack>
        <TextField
          multiline
          minRows={2}
          maxRows={8}
          label="What is called otherwise here (YAML)"
          value={map}
          helperText="hosts, host-groups, connections, calendars, recipients: old name: new name; parameters: stream: { name: value }"
          onChange={(e) => {
            setMap(e.target.value);
            setView(undefined);
          }}
          slotProps={{ htmlInput: { spellCheck: false } }}
          sx={{ '& textarea': { fontFamily: mono, fontSize: '0.86rem' } }}
        />
        {parcel && !view && !done && (
          <Button variant="contained" onClick={() => look(parcel, map)} sx={{ alignSelf: 'start' }}>
            What would change?
          </Button>
        )}
        {doing.problem && (
          <Typography role="alert" color="error" sx={{ whiteSpace: 'pre-wrap' }}>
            {doing.problem}
          </Typography>
        )}
        {view && <About view={view} />}
        {view && <PreviewShown preview={view.preview} />}
        {ready && mayPublish && (
          <WithReason reason={reason} onReason={setReason} busy={doing.busy} onAct={promote}>
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
      </Stack>
    </Paper>
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
          Missing here; define it, or say above what it is called: {view.missing.join(', ')}
        </Typography>
      )}
    </Box>
  );
}

function Pack() {
  const streams = useQuery({
    queryKey: ['streams'],
    queryFn: () => body(api.GET('/api/v1/streams')),
  });
  const [chosen, setChosen] = useState<string[]>([]);
  const [needs, setNeeds] = useState(true);
  const [packed, setPacked] = useState<Schemas['ParcelView']>();
  const doing = useDoing();
  const pack = () =>
    doing.act(async () => {
      const made = await body(
        api.POST('/api/v1/parcels/packed', {
          body: { streams: chosen, others: [], withNeeds: needs, signed: false },
        }),
      );
      setPacked(made.about);
      const link = document.createElement('a');
      link.href = URL.createObjectURL(new Blob([bytesOf(made.parcel)]));
      link.download = parcelName(chosen);
      link.click();
      URL.revokeObjectURL(link.href);
    });
  return (
    <Paper sx={{ p: 2 }}>
      <Stack sx={{ gap: 1.5 }}>
        <Typography variant="h2">Pack a parcel here</Typography>
        <Autocomplete
          multiple
          size="small"
          options={(streams.data ?? []).map((one) => one.stream)}
          value={chosen}
          onChange={(_, to) => setChosen(to)}
          renderInput={(params) => <TextField {...params} label="Streams" />}
        />
        <Stack direction="row" sx={{ gap: 2, alignItems: 'center' }}>
          <FormControlLabel
            control={<Checkbox checked={needs} onChange={(e) => setNeeds(e.target.checked)} />}
            label="And what they need: calendars, watches, capacities, templates"
          />
          <Button
            variant="contained"
            disabled={chosen.length === 0 || doing.busy}
            onClick={pack}
            sx={{ ml: 'auto' }}
          >
            Pack and download
          </Button>
        </Stack>
        {doing.problem && (
          <Typography role="alert" color="error">
            {doing.problem}
          </Typography>
        )}
        {packed && (
          <Typography role="status">
            Packed {packed.definitions.join(', ')}.
            {packed.expects.length > 0 &&
              ` Not in it, and expected there: ${packed.expects.join(', ')}.`}
          </Typography>
        )}
      </Stack>
    </Paper>
  );
}
