import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, body, type Schemas } from '../../api/client';
import { useDoing } from '../../parts/doing';

type Draft = Schemas['DraftView'];

/** A draft as it is kept, and what can be done with it. */
export interface Kept {
  draft: Draft | undefined;
  error: Error | null;
  busy: boolean;
  problem: string;
  /** Keeps a text; the answer is the draft, or nothing where it was refused. */
  save: (title: string, text: string, looked?: boolean) => Promise<Draft | undefined>;
  act: (action: Schemas['DraftAction']) => Promise<Draft | undefined>;
  drop: () => Promise<boolean>;
}

/** The draft of a number; none for 0. */
export function useDraft(id: number): Kept {
  const queries = useQueryClient();
  const doing = useDoing('drafts');
  const [fresh, setFresh] = useState<Draft>();
  const kept = useQuery({
    queryKey: ['drafts', 'one', id],
    queryFn: () => body(api.GET('/api/v1/drafts/{id}', { params: { path: { id } } })),
    enabled: id > 0,
    retry: false,
    refetchOnWindowFocus: false,
  });
  const draft = fresh && (id === 0 || fresh.id === id) ? fresh : kept.data;
  const done = async (what: () => Promise<Draft>) => {
    let made: Draft | undefined;
    await doing.act(async () => {
      made = await what();
      setFresh(made);
      queries.setQueryData(['drafts', 'one', made.id], made);
    });
    return made;
  };
  return {
    draft,
    error: kept.error,
    busy: doing.busy,
    problem: doing.problem,
    save: (title, text, looked = false) => {
      const request = {
        title,
        files: [
          { name: draft?.files[0]?.name ?? 'draft.yaml', text },
          ...(draft?.files.slice(1) ?? []),
        ],
        version: draft?.version ?? 0,
        looked,
      };
      return done(() =>
        body(
          draft
            ? api.PUT('/api/v1/drafts/{id}', { params: { path: { id: draft.id } }, body: request })
            : api.POST('/api/v1/drafts', { body: request }),
        ),
      );
    },
    act: (action) =>
      done(() =>
        body(
          api.POST('/api/v1/drafts/{id}/actions', {
            params: { path: { id: draft?.id ?? 0 } },
            body: action,
          }),
        ),
      ),
    drop: () =>
      doing.act(() =>
        api.DELETE('/api/v1/drafts/{id}', { params: { path: { id: draft?.id ?? 0 } } }),
      ),
  };
}
