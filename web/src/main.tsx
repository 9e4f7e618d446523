import './main.css';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { createBrowserRouter, Navigate, RouterProvider, type RouteObject } from 'react-router';
import { Refused } from './api/client';
import { BenchPage } from './features/bench/BenchPage';
import { Outbox } from './features/bench/Outbox';
import { FaultsPage } from './features/faults/FaultsPage';
import { HandoverPage } from './features/handover/HandoverPage';
import { EditJobPage, NewJobPage } from './features/jobs/JobFormPage';
import { JobShell } from './features/jobs/JobShell';
import { JobsPage } from './features/jobs/JobsPage';
import { ImportPage } from './features/loom/ImportPage';
import { LoomPage } from './features/loom/LoomPage';
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

const pages: RouteObject[] = [
  { path: '/', element: <JobsPage /> },
  { path: '/jobs/new', element: <NewJobPage /> },
  { path: '/jobs/:id/edit', element: <EditJobPage /> },
  {
    path: '/jobs/:id',
    element: <JobShell />,
    children: [
      { index: true, element: <Navigate to="loom" replace /> },
      { path: 'import', element: <ImportPage /> },
      { path: 'loom', element: <LoomPage /> },
      { path: 'bench', element: <BenchPage /> },
      { path: 'faults', element: <FaultsPage /> },
      { path: 'handover', element: <HandoverPage /> },
    ],
  },
  {
    path: '*',
    element: (
      <Frame title="Nothing here">
        <p className="p-8 text-lg">There is no page at this address.</p>
      </Frame>
    ),
  },
];

const router = createBrowserRouter([{ errorElement: <Broken />, children: pages }]);

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
