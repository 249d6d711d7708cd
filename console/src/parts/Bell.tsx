import { Badge, Button } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import { useLocation, useNavigate } from 'react-router';
import { api, body } from '../api/client';

const KEY = 'purser-alerts-seen';

/** How many alerts wait for somebody that were opened since this person looked last. */
export function Bell() {
  const address = useLocation().pathname;
  const go = useNavigate();
  const alerts = useQuery({
    queryKey: ['alerts', 'bell'],
    queryFn: () =>
      body(api.GET('/api/v1/alerts', { params: { query: { heads: true, limit: 100 } } })),
    refetchInterval: 30_000,
  });
  const open = (alerts.data ?? []).filter((one) => one.state === 'open');
  const newest = Math.max(0, ...open.map((one) => one.id));
  const seen = Number(localStorage.getItem(KEY) ?? 0);
  useEffect(() => {
    if (address === '/alerts' && newest > Number(localStorage.getItem(KEY) ?? 0)) {
      localStorage.setItem(KEY, String(newest));
    }
  }, [address, newest]);
  const fresh = open.filter((one) => one.id > seen);
  const urgent = fresh.some((one) => one.urgency === 'urgent');
  return (
    <Badge
      badgeContent={address === '/alerts' ? 0 : fresh.length}
      color={urgent ? 'error' : 'warning'}
      max={99}
      sx={{ mr: 1 }}
    >
      <Button
        color="inherit"
        size="small"
        onClick={() => void go('/alerts')}
        aria-label={`${open.length} alerts wait, ${fresh.length} of them new`}
      >
        Alerts
      </Button>
    </Badge>
  );
}
