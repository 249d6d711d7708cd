import { lazy, Suspense, useState, type ReactNode } from 'react';
import { AccessPage } from './access/AccessPage';
import { AlertsPage } from './alerts/AlertsPage';
import { CalendarsPage } from './calendars/CalendarsPage';
import { CapacityPage } from './capacity/CapacityPage';
import { ChangesPage } from './changes/ChangesPage';
import { CommitmentPage } from './commitments/CommitmentPage';
import { CommitmentsPage } from './commitments/CommitmentsPage';
import { ConnectionsPage } from './connections/ConnectionsPage';
import { DefinitionPage } from './definitions/DefinitionPage';
import { DefinitionsPage } from './definitions/DefinitionsPage';
import { DraftsPage } from './drafts/DraftsPage';
import { EnvironmentsPage } from './environments/EnvironmentsPage';
import { FilesPage } from './files/FilesPage';
import { HealthPage } from './health/HealthPage';
import { HostsPage } from './hosts/HostsPage';
import { MonthPage } from './month/MonthPage';
import { ParcelsPage } from './parcels/ParcelsPage';
import { RepositoryPage } from './repository/RepositoryPage';
import { RulesPage } from './rules/RulesPage';
import { RunsPage } from './runs/RunsPage';
import { RunPage } from './run/RunPage';
import { StreamPage } from './streams/StreamPage';
import { StreamsPage } from './streams/StreamsPage';
import { TellingPage } from './telling/TellingPage';
import { TodayPage } from './today/TodayPage';
import { Waiting } from '../parts/Notice';

let Fetched: typeof import('./editor/EditorPage').EditorPage | undefined;

const editor = () =>
  import('./editor/EditorPage').then((found) => {
    Fetched = found.EditorPage;
    return { default: found.EditorPage };
  });

/** Most people never open it: it is fetched when somebody does, or beforehand for those who may. */
const LazyEditorPage = lazy(editor);

/** At once where it is there: what is lazy is held back for a moment even then. */
function Editor({ mayPublish }: { mayPublish: boolean }) {
  const [There] = useState(() => Fetched); // it stays what it was: another would begin anew
  return There ? (
    <There mayPublish={mayPublish} />
  ) : (
    <Suspense fallback={<Waiting error={null} what="The editor" />}>
      <LazyEditorPage mayPublish={mayPublish} />
    </Suspense>
  );
}

/** Fetches what those who write definitions will need, while nothing else is to be done. */
export function fetchForAuthors() {
  const fetch = () => void editor().catch(() => undefined); // fetched again when it is opened
  if ('requestIdleCallback' in window) {
    window.requestIdleCallback(fetch, { timeout: 5_000 });
  } else {
    setTimeout(fetch, 2_000);
  }
}

const CalendarEditorPage = lazy(() =>
  import('./calendars/CalendarEditorPage').then((found) => ({ default: found.CalendarEditorPage })),
);

/** What somebody may do, in the words of the session. */
export type Deed = 'act' | 'publish' | 'administer';

/** Who looks at a page. */
export interface Visitor {
  today: string;
  may: (what: Deed) => boolean;
}

/** What people come for. */
export const groups = ['The running day', 'What is planned', 'The site'] as const;
export type Group = (typeof groups)[number];

/** A page; one without a name is reached from another, and belongs to its group. */
export interface Page {
  path: string;
  name?: string;
  group: Group;
  element: (visitor: Visitor) => ReactNode;
}

/** All pages: navigation, routes and what is found by a few letters come from here. */
export const pages: Page[] = [
  {
    path: '/',
    name: 'Today',
    group: 'The running day',
    element: ({ today, may }) => <TodayPage today={today} mayAct={may('act')} />,
  },
  {
    path: '/commitments',
    name: 'Commitments',
    group: 'The running day',
    element: ({ today }) => <CommitmentsPage today={today} />,
  },
  {
    path: '/commitments/:name/:date?',
    group: 'The running day',
    element: () => <CommitmentPage />,
  },
  {
    path: '/runs',
    name: 'Runs',
    group: 'The running day',
    element: ({ today, may }) => <RunsPage today={today} mayAct={may('act')} />,
  },
  {
    path: '/runs/:id',
    group: 'The running day',
    element: ({ may }) => <RunPage mayAct={may('act')} />,
  },
  {
    path: '/alerts',
    name: 'Alerts',
    group: 'The running day',
    element: ({ may }) => <AlertsPage mayAct={may('act')} />,
  },
  {
    path: '/files',
    name: 'Files',
    group: 'The running day',
    element: ({ today, may }) => <FilesPage today={today} mayAct={may('act')} />,
  },
  {
    path: '/streams',
    name: 'Streams',
    group: 'What is planned',
    element: () => <StreamsPage />,
  },
  {
    path: '/streams/*',
    group: 'What is planned',
    element: ({ may }) => <StreamPage mayAct={may('act')} />,
  },
  { path: '/month', name: 'Month', group: 'What is planned', element: () => <MonthPage /> },
  {
    path: '/calendars',
    name: 'Calendars',
    group: 'What is planned',
    element: ({ may }) => <CalendarsPage mayPublish={may('publish')} />,
  },
  {
    path: '/calendar-editor',
    group: 'What is planned',
    element: () => (
      <Suspense fallback={<Waiting error={null} what="The editor" />}>
        <CalendarEditorPage />
      </Suspense>
    ),
  },
  { path: '/rules', name: 'Day rules', group: 'What is planned', element: () => <RulesPage /> },
  {
    path: '/definitions',
    name: 'Definitions',
    group: 'What is planned',
    element: () => <DefinitionsPage />,
  },
  {
    path: '/definitions/:kind/*',
    group: 'What is planned',
    element: ({ may }) => <DefinitionPage mayPublish={may('publish')} />,
  },
  {
    path: '/drafts',
    name: 'Drafts',
    group: 'What is planned',
    element: ({ may }) => (
      <DraftsPage mayPublish={may('publish')} mayAdminister={may('administer')} />
    ),
  },
  {
    path: '/editor',
    group: 'What is planned',
    element: ({ may }) => <Editor mayPublish={may('publish')} />,
  },
  {
    path: '/parcels',
    name: 'Parcels',
    group: 'What is planned',
    element: ({ may }) => <ParcelsPage mayPublish={may('publish')} />,
  },
  {
    path: '/environments',
    name: 'Environments',
    group: 'What is planned',
    element: ({ may }) => (
      <EnvironmentsPage mayPublish={may('publish')} mayAdminister={may('administer')} />
    ),
  },
  {
    path: '/repository',
    name: 'Repository',
    group: 'What is planned',
    element: ({ may }) => (
      <RepositoryPage mayPublish={may('publish')} mayAdminister={may('administer')} />
    ),
  },
  {
    path: '/changes',
    name: 'Changes',
    group: 'What is planned',
    element: ({ may }) => <ChangesPage mayPublish={may('publish')} />,
  },
  {
    path: '/capacity',
    name: 'Capacity',
    group: 'The site',
    element: ({ may }) => <CapacityPage mayAct={may('act')} />,
  },
  {
    path: '/telling',
    name: 'Who is told',
    group: 'The site',
    element: ({ may }) => <TellingPage mayAct={may('act')} />,
  },
  {
    path: '/hosts',
    name: 'Hosts',
    group: 'The site',
    element: ({ may }) => <HostsPage mayAct={may('act')} />,
  },
  {
    path: '/connections',
    name: 'Connections',
    group: 'The site',
    element: ({ may }) => <ConnectionsPage mayAct={may('act')} />,
  },
  {
    path: '/access',
    name: 'Access',
    group: 'The site',
    element: ({ may }) => <AccessPage mayAdminister={may('administer')} />,
  },
  { path: '/health', name: 'Health', group: 'The site', element: () => <HealthPage /> },
];

/** Pages with a name, of a group or of all. */
export function named(group?: Group): { path: string; name: string }[] {
  return pages.flatMap((page) =>
    page.name && (!group || page.group === group) ? [{ path: page.path, name: page.name }] : [],
  );
}

/** The group of the page at an address; that of the running day where there is none. */
export function groupOf(address: string): Group {
  const first = `/${address.split('/')[1] ?? ''}`;
  return pages.find((page) => page.path === first)?.group ?? groups[0];
}
