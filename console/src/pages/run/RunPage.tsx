import { Box, Paper, Stack, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { Link, useParams } from 'react-router';
import { api, body, type Schemas } from '../../api/client';
import { useNow } from '../../api/live';
import { Waiting } from '../../parts/Notice';
import { whereabouts } from '../../parts/whereabouts';
import { StateIcon, StateMark, stateName } from '../../parts/StateMark';
import { clock, span } from '../../parts/time';
import { sentence } from '../../parts/words';
import { mono } from '../../theme';
import { streamAddress } from '../streams/address';
import { History } from './History';
import { partsOfKinds } from './kinds';
import { OfItsTime } from './OfItsTime';
import { Output } from './Output';
import { Reasons } from './Reasons';
import { RunActions } from './RunActions';
import { Values } from './Values';

type Detail = Schemas['RunDetail'];

/** One run: how it stands and why, what can be done, its output, and how it went before. */
export function RunPage({ mayAct }: { mayAct: boolean }) {
  const id = Number(useParams().id);
  const now = useNow();
  const found = useQuery({
    queryKey: ['run', id],
    queryFn: () => body(api.GET('/api/v1/runs/{id}', { params: { path: { id } } })),
    refetchInterval: 10_000,
  });
  if (!found.data) {
    return <Waiting error={found.error} what="The run" />;
  }
  const { run, why } = found.data;
  return (
    <Stack sx={{ gap: 2 }}>
      <Box>
        <Typography variant="body2" color="textSecondary">
          <Link
            to={`${streamAddress(run.stream)}?date=${run.date}&number=${run.number}`}
            style={{ color: 'inherit' }}
          >
            {run.streamTitle}
          </Link>{' '}
          · business date {run.date}
          {found.data.above && ` · below the step ${found.data.above}`}
        </Typography>
        <Stack direction="row" sx={{ alignItems: 'center', gap: 1.5, flexWrap: 'wrap' }}>
          <Typography variant="h1">{run.title}</Typography>
          <StateMark state={run.state} held={run.hold !== ''} />
          {run.alerts
            .filter((alert) => alert !== run.state)
            .map((alert) => (
              <Typography key={alert} color="error" sx={{ fontWeight: 700 }}>
                {alert}
              </Typography>
            ))}
          <Box sx={{ flex: 1 }} />
          {mayAct && <RunActions detail={found.data} />}
        </Stack>
        <Typography sx={{ fontFamily: mono, fontSize: '0.85rem' }} color="textSecondary">
          {run.reference}
        </Typography>
      </Box>
      <Paper sx={{ p: 2 }}>
        <Typography sx={{ fontSize: '1.1rem', fontWeight: 600 }}>
          {sentence(why.sentence)}
        </Typography>
        <Reasons reasons={why.reasons} now={now} said={why.sentence} />
      </Paper>
      <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) 400px', gap: 2 }}>
        <Stack sx={{ gap: 2, minWidth: 0 }}>
          {partsOfKinds[run.kind]?.(run, mayAct)}
          {run.shape === 'runs' && <Below detail={found.data} />}
          {run.shape === 'attempts' && <Output run={run.id} attempts={found.data.attempts} />}
          <Values run={run.id} values={found.data.values} />
          <History run={run} earlier={found.data.earlier} />
        </Stack>
        <Stack sx={{ gap: 2 }}>
          <Facts detail={found.data} now={now} />
          <Moments detail={found.data} now={now} />
          <OfItsTime key={run.id} run={run.id} />
          <Done detail={found.data} now={now} />
        </Stack>
      </Box>
    </Stack>
  );
}

function Fact({ name, children }: { name: string; children: ReactNode }) {
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: '104px 1fr', gap: 1, py: 0.35 }}>
      <Typography variant="body2" color="textSecondary">
        {name}
      </Typography>
      <Typography variant="body2" component="div" sx={{ overflowWrap: 'anywhere' }}>
        {children}
      </Typography>
    </Box>
  );
}

function Facts({ detail, now }: { detail: Detail; now: number }) {
  const { run } = detail;
  const unsaid = run.hangsOnPerson && run.finishBy && run.chanceLate === undefined;
  const late = unsaid
    ? 'nobody can say: it hangs on a person or a file'
    : run.chanceLate === undefined
      ? ''
      : `${Math.round(run.chanceLate * 100)} in 100`;
  return (
    <Paper sx={{ p: 2 }}>
      {detail.command && (
        <Fact name={run.shape === 'question' ? 'Asks' : 'Does'}>
          <span
            style={
              run.shape === 'question'
                ? undefined
                : { fontFamily: mono, whiteSpace: 'pre-wrap', fontSize: '0.8rem' }
            }
          >
            {detail.command}
          </span>
        </Fact>
      )}
      {detail.whenItFails && ['failed', 'cancelled'].includes(run.state) && (
        <Fact name="What to do">
          <span style={{ whiteSpace: 'pre-line' }}>{detail.whenItFails}</span>
        </Fact>
      )}
      {detail.onlyIf && <Fact name="Only if">{detail.onlyIf}</Fact>}
      {detail.waitsFor && <Fact name="Waits for">{detail.waitsFor}</Fact>}
      {detail.files.map((file) => (
        <Fact key={file.watch} name={`File ${file.watch}`}>
          {file.sight}
          {file.path && `: ${file.path}`}
        </Fact>
      ))}
      <Fact name="Due">
        {clock(run.due, now)}
        {run.shift && ` (clock change: ${run.shift})`}
      </Fact>
      {run.startBy && <Fact name="Start by">{clock(run.startBy, now)}</Fact>}
      {run.finishBy && <Fact name="Finish by">{clock(run.finishBy, now)}</Fact>}
      {run.expectedEnd && (
        <Fact name="Likely end">
          {clock(run.expectedEnd, now, false)}
          {run.latestEnd && `, at the latest ${clock(run.latestEnd, now, false)}`}
          {run.ifAnswered && ' (if answered as usual)'}
        </Fact>
      )}
      {late && <Fact name="Chance late">{late}</Fact>}
      {run.priority !== 50 && <Fact name="Priority">{run.priority}</Fact>}
      {run.tags.length > 0 && <Fact name="Tags">{run.tags.join(', ')}</Fact>}
      {detail.parameters.map((one) => (
        <Fact key={one.name} name={one.name}>
          {one.value}{' '}
          <Typography component="span" variant="body2" color="textSecondary">
            from {one.origin === 'start' ? 'the start by hand' : `the ${one.origin}`}
          </Typography>
        </Fact>
      ))}
      {detail.attempts.map((attempt) => (
        <Fact key={attempt.number} name={`Attempt ${attempt.number}`}>
          {[
            whereabouts(attempt.host),
            attempt.started && clock(attempt.started, now),
            attempt.started &&
              attempt.ended &&
              `took ${span(Date.parse(attempt.ended) - Date.parse(attempt.started))}`,
          ]
            .filter(Boolean)
            .join(', ')}
          {attempt.note && `: ${attempt.note}`}
        </Fact>
      ))}
    </Paper>
  );
}

function Moments({ detail, now }: { detail: Detail; now: number }) {
  return (
    <Paper sx={{ p: 2 }}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        What happened
      </Typography>
      {detail.moments.length === 0 && (
        <Typography variant="body2" color="textSecondary">
          {detail.run.ended ? 'Nothing is on record.' : 'Nothing yet: it is planned.'}
        </Typography>
      )}
      {detail.moments.map((moment, index) => (
        <Box
          key={index}
          sx={{ display: 'grid', gridTemplateColumns: '82px 18px 1fr', gap: 1, py: 0.3 }}
        >
          <Typography variant="body2" color="textSecondary">
            {clock(moment.at, now)}
          </Typography>
          <Box sx={{ color: (t) => t.states[stateName(moment.state)].edge, pt: 0.3 }}>
            <StateIcon state={moment.state} />
          </Box>
          <Typography variant="body2">{moment.note || moment.state}</Typography>
        </Box>
      ))}
    </Paper>
  );
}

/** The runs right below a step. */
function Below({ detail }: { detail: Detail }) {
  const address = `${streamAddress(`${detail.run.stream}/${detail.run.job}`)}?date=${detail.run.date}&number=${detail.run.number}`;
  return (
    <Paper sx={{ p: 2 }}>
      <Stack direction="row" sx={{ alignItems: 'baseline', gap: 2, mb: 1 }}>
        <Typography variant="h2">
          {detail.run.kind === 'parts' ? 'Its parts' : 'Below this step'}
        </Typography>
        <Link to={address} style={{ color: 'inherit' }}>
          as a picture
        </Link>
      </Stack>
      {detail.below.map((run) => (
        <Stack key={run.id} direction="row" sx={{ gap: 1.5, py: 0.5, alignItems: 'center' }}>
          <StateMark state={run.state} held={run.hold !== ''} />
          <Link to={`/runs/${run.id}`} style={{ color: 'inherit' }}>
            {run.title}
          </Link>
          <Typography variant="body2" color="textSecondary">
            {sentence(run.sentence)}
          </Typography>
        </Stack>
      ))}
    </Paper>
  );
}

/** What people did to the run, and why. */
function Done({ detail, now }: { detail: Detail; now: number }) {
  if (detail.done.length === 0) {
    return null;
  }
  return (
    <Paper sx={{ p: 2 }}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        Who did what
      </Typography>
      {detail.done.map((entry) => (
        <Box
          key={entry.id}
          sx={{ display: 'grid', gridTemplateColumns: '82px 1fr', gap: 1, py: 0.3 }}
        >
          <Typography variant="body2" color="textSecondary">
            {clock(entry.at, now)}
          </Typography>
          <Typography variant="body2">
            <b>{entry.who}</b>: {entry.what}
            {entry.reason && `, because ${entry.reason}`}
          </Typography>
        </Box>
      ))}
    </Paper>
  );
}
