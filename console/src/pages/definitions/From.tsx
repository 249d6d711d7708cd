import { Box, Button, Paper, Stack, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { api, body } from '../../api/client';
import { TextLink } from '../../parts/TextLink';
import { useDoing } from '../../parts/doing';
import { definitionAddress } from './address';

/** Where a stream comes from, and what is other in it than in its template. */
export function From({
  kind,
  name,
  mayPublish,
}: {
  kind: string;
  name: string;
  mayPublish: boolean;
}) {
  const doing = useDoing('definitions');
  const all = useQuery({
    queryKey: ['definitions', 'heads'],
    queryFn: () => body(api.GET('/api/v1/definitions', { params: { query: { texts: false } } })),
    enabled: kind === 'stream',
  });
  const made = all.data?.find((one) => one.kind === kind && one.name === name)?.made;
  if (!made) {
    return null;
  }
  const parts = made.templates.filter((template) => template !== made.template);
  const takeBack = (keys: string[]) =>
    doing.act(() =>
      body(api.POST('/api/v1/templates/take-back', { body: { stream: name, keys, reason: '' } })),
    );
  return (
    <Paper sx={{ p: 2 }}>
      <Typography variant="h2">
        {made.by ? (
          <>
            Row {made.row} of{' '}
            <TextLink to={definitionAddress('for-each', made.by)}>for-each {made.by}</TextLink>,
            from{' '}
          </>
        ) : (
          made.template && 'From '
        )}
        {made.template && (
          <TextLink to={definitionAddress('template', made.template)}>
            template {made.template}
          </TextLink>
        )}
        {parts.length > 0 && (made.template ? ', with jobs from ' : 'Jobs of it come from ')}
        {parts.map((template, i) => (
          <span key={template}>
            {i > 0 && ' and '}
            <TextLink to={definitionAddress('template', template)}>template {template}</TextLink>
          </span>
        ))}
      </Typography>
      <Typography color="textSecondary">
        {Object.entries(made.values)
          .map(([key, value]) => `${key}: ${value}`)
          .join(' · ')}
      </Typography>
      {doing.problem && (
        <Typography role="alert" color="error">
          {doing.problem}
        </Typography>
      )}
      {made.deviations.map((key) => (
        <Stack key={key} direction="row" sx={{ gap: 1, alignItems: 'center' }}>
          <Box>
            other than the template: <b>{key}</b>
          </Box>
          {mayPublish && (
            <Button size="small" disabled={doing.busy} onClick={() => takeBack([key])}>
              Take back
            </Button>
          )}
        </Stack>
      ))}
    </Paper>
  );
}
