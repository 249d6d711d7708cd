import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, body, type Schemas } from '../../api/client';
import { useDoing, type Doing } from '../../parts/doing';

/** A parcel that is looked at, and then taken as it was looked at. */
export interface Taking {
  /** What it would change here; nothing before it was looked at. */
  view?: Schemas['ParcelPreview'];
  /** What became of it. */
  done?: Schemas['PublishResult'];
  look: (parcel: string, map: string) => Promise<boolean>;
  take: (reason: string) => Promise<boolean>;
  /** Forgets the look, since something else is meant now. */
  forget: () => void;
  doing: Doing;
}

export function useTaking(): Taking {
  const [looked, setLooked] = useState({ parcel: '', map: '' });
  const [view, setView] = useState<Schemas['ParcelPreview']>();
  const [done, setDone] = useState<Schemas['PublishResult']>();
  const doing = useDoing();
  const queries = useQueryClient();
  const forget = () => {
    setView(undefined);
    setDone(undefined);
  };
  return {
    view,
    done,
    forget,
    doing,
    look: (parcel, map) =>
      doing.act(async () => {
        forget();
        setView(
          await body(
            api.POST('/api/v1/parcels/preview', { body: { parcel, map, days: 400, reason: '' } }),
          ),
        );
        setLooked({ parcel, map });
      }),
    take: (reason) =>
      doing.act(async () => {
        setDone(
          await body(api.POST('/api/v1/parcels', { body: { ...looked, reason, days: 400 } })),
        );
        setView(undefined);
        await queries.invalidateQueries();
      }),
  };
}
