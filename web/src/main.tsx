import './main.css';
import { MutationCache, QueryCache, QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { createBrowserRouter, RouterProvider } from 'react-router';
import { Refused } from './api/client';
import { Outbox } from './features/bench/Outbox';
import { FirstLeadPage } from './features/people/FirstLeadPage';
import { WelcomePage } from './features/people/WelcomePage';
import { welcomePath } from './features/people/welcome';
import { SignInAgain } from './features/session/SignInAgain';
import { noticeSignedOut, useSignedOut } from './features/session/signedOut';
import { SignInPage } from './features/session/SignInPage';
import { useSession } from './features/session/useSession';
import { routes } from './routes';
import { ErrorNotice, Loading } from './ui/Notice';
import './ui/light';
import { MayChange } from './ui/mayChange';

const client = new QueryClient({
  queryCache: new QueryCache({ onError: (error) => noticeSignedOut(error) }),
  mutationCache: new MutationCache({ onError: (error, _, __, mutation) => noticeSignedOut(error, mutation.meta) }),
  defaultOptions: {
    // What the browser thinks of the network is not asked: what it keeps answers without one.
    queries: {
      retry: (count, error) => !(error instanceof Refused) && count < 3,
      refetchOnWindowFocus: false,
      networkMode: 'always',
    },
    mutations: { networkMode: 'always' },
  },
});

const router = createBrowserRouter(routes);

/** A stranger sees the sign-in page and nothing else. */
function App() {
  const session = useSession();
  const signedOut = useSignedOut();
  if (session.isPending) return <Loading what="the session" />;
  if (session.isError) {
    return (
      <main className="p-6">
        <h1 className="mb-3 text-2xl font-bold">Wise Loom</h1>
        <ErrorNotice error={session.error} />
      </main>
    );
  }

  if (location.pathname === welcomePath) return <WelcomePage />;
  if (session.data.needsLead) return <FirstLeadPage />;
  if (!session.data.person) return <SignInPage demo={session.data.demo} />;
  return (
    <MayChange value={session.data.person.mayChange}>
      <Outbox key={session.data.person.id} me={session.data.person}>
        <RouterProvider router={router} />
        {signedOut && <SignInAgain />}
      </Outbox>
    </MayChange>
  );
}

// Without it the page works as long as there is a server.
if ('serviceWorker' in navigator && import.meta.env.PROD)
  navigator.serviceWorker.register('/sw.js').catch(() => undefined);

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
