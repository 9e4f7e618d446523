import './main.css';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode, type ComponentType } from 'react';
import { createRoot } from 'react-dom/client';
import {
  createBrowserRouter,
  Navigate,
  RouterProvider,
  type NonIndexRouteObject,
  type RouteObject,
} from 'react-router';
import { Refused } from './api/client';
import { Outbox } from './features/bench/Outbox';
import { JobsPage } from './features/jobs/JobsPage';
import { SignInPage } from './features/session/SignInPage';
import { useSession } from './features/session/useSession';
import { Button } from './ui/Controls';
import { Frame } from './ui/Frame';
import { ErrorNotice, Loading } from './ui/Notice';
import './ui/light';

const client = new QueryClient({
  defaultOptions: {
    queries: { retry: (count, error) => !(error instanceof Refused) && count < 3, refetchOnWindowFocus: false },
  },
});

/** A page whose code is fetched when somebody goes there. */
const later = (path: string, fetch: () => Promise<ComponentType>): NonIndexRouteObject => ({
  path,
  lazy: async () => ({ Component: await fetch() }),
});

const pages: RouteObject[] = [
  { path: '/', element: <JobsPage /> },
  later('/jobs/new', async () => (await import('./features/jobs/JobFormPage')).NewJobPage),
  later('/jobs/:id/edit', async () => (await import('./features/jobs/JobFormPage')).EditJobPage),
  {
    ...later('/jobs/:id', async () => (await import('./features/jobs/JobShell')).JobShell),
    children: [
      { index: true, element: <Navigate to="loom" replace /> },
      later('import', async () => (await import('./features/loom/ImportPage')).ImportPage),
      later('loom', async () => (await import('./features/loom/LoomPage')).LoomPage),
      later('shows', async () => (await import('./features/shows/ShowsPage')).ShowsPage),
      later('one-end', async () => (await import('./features/shows/OneEndPage')).OneEndPage),
      later('cable', async () => (await import('./features/cable/CablePage')).CablePage),
      later('sensors', async () => (await import('./features/sensors/SensorsPage')).SensorsPage),
      later('draft', async () => (await import('./features/draft/DraftPage')).DraftPage),
      later('revisions', async () => (await import('./features/revisions/RevisionsPage')).RevisionsPage),
      later('bench', async () => (await import('./features/bench/BenchPage')).BenchPage),
      later('faults', async () => (await import('./features/faults/FaultsPage')).FaultsPage),
      later('handover', async () => (await import('./features/handover/HandoverPage')).HandoverPage),
    ],
  },
  later('/book', async () => (await import('./features/book/BookPage')).BookPage),
  later('/book/:id', async () => (await import('./features/book/SheetPage')).SheetPage),
  later('/book/:id/loose/:connector', async () => (await import('./features/book/LoosePage')).LoosePage),
  later('/book/:id/loose/:connector/labels', async () => (await import('./features/book/LabelsPage')).LabelsPage),
  later('/compare', async () => (await import('./features/book/ComparePage')).ComparePage),
  later('/merges', async () => (await import('./features/merge/MergesPage')).MergesPage),
  later('/merges/:id', async () => (await import('./features/merge/MergePage')).MergePage),
  later('/library', async () => (await import('./features/library/LibraryPage')).LibraryPage),
  later('/limits', async () => (await import('./features/library/LimitsPage')).LimitsPage),
  {
    path: '*',
    element: (
      <Frame title="Nothing here">
        <p className="p-8 text-lg">There is no page at this address.</p>
      </Frame>
    ),
  },
];

const router = createBrowserRouter([
  { errorElement: <Broken />, hydrateFallbackElement: <Loading what="the page" />, children: pages },
]);

/** A page that could not be drawn; what was entered and measured is not lost by it. */
function Broken() {
  return (
    <main className="mx-auto max-w-2xl space-y-4 p-8">
      <h1 className="text-3xl font-bold">This page could not be drawn.</h1>
      <p className="text-lg">
        Readings that were taken are kept. Load the page again; if it happens once more, tell the lead what you did just
        before.
      </p>
      <Button kind="main" onClick={() => location.reload()}>
        Load again
      </Button>
    </main>
  );
}

/** A stranger sees the sign-in page and nothing else. */
function App() {
  const session = useSession();
  if (session.isPending) return <Loading what="the session" />;
  if (session.isError) {
    return (
      <main className="p-6">
        <h1 className="mb-3 text-2xl font-bold">Wise Loom</h1>
        <ErrorNotice error={session.error} />
      </main>
    );
  }

  if (!session.data.person) return <SignInPage demo={session.data.demo} />;
  return (
    <Outbox>
      <RouterProvider router={router} />
    </Outbox>
  );
}

const root = document.getElementById('root');
if (root) {
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={client}>
        <App />
      </QueryClientProvider>
    </StrictMode>,
  );
}
