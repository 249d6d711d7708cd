import type { ReactNode } from 'react';
import type { Run } from '../../api/client';
import { RemotePart } from './RemotePart';
import { ResultsPart } from './ResultsPart';

/** What a run's page shows besides, by the kind of its work: a file for each kind that has more. */
export const partsOfKinds: Record<string, (run: Run, mayAct: boolean) => ReactNode> = {
  call: (run, mayAct) => <RemotePart run={run} mayAct={mayAct} />,
  sql: (run) => <ResultsPart run={run} />,
};
