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
import { useQuery } from '@tanstack/react-query';
import { useRef, useState, type ChangeEvent } from 'react';
import { api, body, type Schemas } from '../../api/client';
import { useDoing } from '../../parts/doing';
import { MapField } from './MapField';
import { Taken } from './Taken';
import { base64Of, bytesOf, parcelName } from './bytes';
import { useTaking } from './taking';

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
  const taking = useTaking();
  const choose = async (e: ChangeEvent<HTMLInputElement>) => {
    const file = e.target.files?.[0];
    e.target.value = '';
    if (file) {
      const read = base64Of(new Uint8Array(await file.arrayBuffer()));
      setParcel(read);
      setName(file.name);
      await taking.look(read, map);
    }
  };
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
        <MapField
          map={map}
          onMap={(to) => {
            setMap(to);
            taking.forget();
          }}
        />
        {parcel && !taking.view && !taking.done && (
          <Button
            variant="contained"
            disabled={taking.doing.busy}
            onClick={() => void taking.look(parcel, map)}
            sx={{ alignSelf: 'start' }}
          >
            What would change?
          </Button>
        )}
        <Taken taking={taking} mayPublish={mayPublish} />
      </Stack>
    </Paper>
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
