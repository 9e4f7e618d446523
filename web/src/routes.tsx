import { lazy, Suspense } from 'react';
import { Navigate, type RouteObject } from 'react-router';
import { jobPages, shopPages, type Page } from './pages';
import { Broken } from './ui/Broken';
import { Frame } from './ui/Frame';
import { Loading } from './ui/Notice';
import { ShopFrame } from './ui/ShopFrame';

/** A page of a job: head and stem stay while its code is fetched, and when it cannot be drawn. */
function inJob({ path, title, fetch }: Page): RouteObject {
  const Part = lazy(async () => ({ default: await fetch() }));
  const element = (
    <Suspense fallback={<Loading what={title.toLowerCase()} />}>
      <Part />
    </Suspense>
  );
  return { path, element, errorElement: <Broken /> };
}

/** A page of the shop. */
function inShop({ path, title, fetch }: Page): RouteObject {
  const Part = lazy(async () => ({ default: await fetch() }));
  const coming = (
    <ShopFrame title={title}>
      <Loading what={title.toLowerCase()} />
    </ShopFrame>
  );
  return {
    path,
    element: (
      <Suspense fallback={coming}>
        <Part />
      </Suspense>
    ),
  };
}

const JobShell = lazy(async () => ({ default: (await import('./features/jobs/JobShell')).JobShell }));

export const routes: RouteObject[] = [
  {
    errorElement: (
      <main>
        <Broken />
      </main>
    ),
    hydrateFallbackElement: <Loading what="the page" />,
    children: [
      ...shopPages.map(inShop),
      {
        path: '/jobs/:id',
        element: (
          <Suspense
            fallback={
              <Frame title="Job">
                <Loading what="the job" />
              </Frame>
            }
          >
            <JobShell />
          </Suspense>
        ),
        children: [{ index: true, element: <Navigate to="loom" replace /> }, ...jobPages.map(inJob)],
      },
      {
        path: '*',
        element: (
          <Frame title="Nothing here">
            <p className="p-8 text-lg">There is no page at this address.</p>
          </Frame>
        ),
      },
    ],
  },
];
