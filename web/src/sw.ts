/// <reference lib="webworker" />
import { cleanupOutdatedCaches, createHandlerBoundToURL, precacheAndRoute } from 'workbox-precaching';
import { NavigationRoute, registerRoute } from 'workbox-routing';
import { NetworkFirst } from 'workbox-strategies';
import { dropIfForgotten, isKept, keptCache, keptHeader, secondsBeforeKept } from './api/kept';

declare const self: ServiceWorkerGlobalScope;

// The page itself: it comes up without a server. A newer one waits until the last tab of the older is closed, so that no page loses its parts while hands are full.
precacheAndRoute(self.__WB_MANIFEST);
cleanupOutdatedCaches();
registerRoute(
  new NavigationRoute(createHandlerBoundToURL('/index.html'), { denylist: [/^\/(api|p|openapi|health)(\/|$)/] }),
);

// What a bench needs to go on: the server's word when it gives one, else what it said last, marked as such.
registerRoute(
  ({ url, request }) => request.method === 'GET' && url.origin === self.location.origin && isKept(url.pathname),
  new NetworkFirst({
    cacheName: keptCache,
    networkTimeoutSeconds: secondsBeforeKept,
    plugins: [
      {
        handlerWillStart: ({ state }) => {
          if (state) state.began = Date.now();
          return Promise.resolve();
        },
        // What was asked for before somebody signed out is not kept after it.
        cacheDidUpdate: ({ request, state }) => dropIfForgotten(request, state?.began as number),
        // A server whose database is away knows no more than one that does not answer.
        fetchDidSucceed: ({ response }) =>
          response.status >= 500
            ? Promise.reject(new Error(`The server answered ${response.status}.`))
            : Promise.resolve(response),
        cachedResponseWillBeUsed: ({ cachedResponse }) => {
          if (!cachedResponse) return Promise.resolve(null);
          const headers = new Headers(cachedResponse.headers);
          headers.set(keptHeader, '1');
          return Promise.resolve(new Response(cachedResponse.body, { status: cachedResponse.status, headers }));
        },
      },
    ],
  }),
);
