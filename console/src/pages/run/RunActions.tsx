import { Button, Menu, MenuItem, Stack } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, type Schemas } from '../../api/client';
import { ActionDialog, type Change } from '../../parts/ActionDialog';
import { actionName, prominent } from '../../parts/actions';

type Detail = Schemas['RunDetail'];

/** What can be done to a run now: the usual as buttons, the rest in a menu. */
export function RunActions({ detail }: { detail: Detail }) {
  const queries = useQueryClient();
  const [chosen, setChosen] = useState<Schemas['ActionView'] | null>(null);
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  const id = detail.run.id;
  const shown = prominent
    .flatMap((name) => detail.actions.filter((one) => one.action === name))
    .slice(0, 3);
  const rest = detail.actions.filter((one) => !shown.includes(one));
  const act = async (reason: string, change: Change) => {
    await api.POST('/api/v1/runs/{id}/actions', {
      params: { path: { id } },
      body: {
        action: change.action,
        reason,
        priority: change.priority,
        startAt: change.startAt,
      },
    });
    await queries.invalidateQueries();
  };
  return (
    <Stack direction="row" sx={{ gap: 1 }}>
      {shown.map((one) => (
        <Button
          key={one.action}
          variant={one.action === 'approve' || one.action === 'rerun' ? 'contained' : 'outlined'}
          onClick={() => setChosen(one)}
        >
          {actionName(one.action)}
        </Button>
      ))}
      {rest.length > 0 && (
        <Button variant="outlined" aria-haspopup="menu" onClick={(e) => setMenu(e.currentTarget)}>
          More
        </Button>
      )}
      <Menu anchorEl={menu} open={menu !== null} onClose={() => setMenu(null)}>
        {rest.map((one) => (
          <MenuItem
            key={one.action}
            onClick={() => {
              setMenu(null);
              setChosen(one);
            }}
          >
            {actionName(one.action)}
          </MenuItem>
        ))}
      </Menu>
      {chosen && (
        <ActionDialog
          title={`${actionName(chosen.action)}?`}
          verb={actionName(chosen.action)}
          effect={chosen.effect}
          change={{ action: chosen.action, runs: [id] }}
          onClose={() => setChosen(null)}
          onDo={act}
        />
      )}
    </Stack>
  );
}
