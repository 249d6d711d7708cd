import { Box, Typography } from '@mui/material';

/** What stands where a page cannot show what it should. */
export function Notice({ title, text }: { title: string; text: string }) {
  return (
    <Box sx={{ py: 6, textAlign: 'center', color: 'text.secondary' }}>
      <Typography variant="h2" sx={{ color: 'text.primary', mb: 0.5 }}>
        {title}
      </Typography>
      <Typography>{text}</Typography>
    </Box>
  );
}

/** While nothing has come yet, or what went wrong instead. */
export function Waiting({ error, what }: { error: Error | null; what: string }) {
  return error ? (
    <Notice title={`${what} cannot be shown`} text={error.message} />
  ) : (
    <Notice title="One moment" text={`Asking for ${what.toLowerCase()}`} />
  );
}
