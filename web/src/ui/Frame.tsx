import { useMutation, useQueryClient } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { Link, NavLink } from 'react-router';
import { api, given } from '../api/client';
import { forgetKept } from '../api/kept';
import { keys } from '../api/keys';
import { useSession } from '../features/session/useSession';
import { Alone } from './Alone';
import { AtWork } from './AtWork';
import { usePageTitle } from './usePageTitle';
import { useLight } from './light';

export interface Tab {
  to: string;
  label: string;
  /** Whether it is the page one is on; told by its address when not given. */
  here?: boolean;
}

/** The head of every page: where one is, the pages of this job, light, and who is signed in. */
export function Frame({
  title,
  note,
  tabs,
  tabsLabel = 'Pages of this job',
  stem,
  where,
  fitted = false,
  children,
}: {
  title: string;
  note?: ReactNode;
  tabs?: readonly Tab[];
  tabsLabel?: string;
  stem?: ReactNode;
  /** What stands before the title in the tab and in the history: the part of a job that one is at. */
  where?: string;
  /** The page fills the window and scrolls inside itself, so that nothing moves while hands are full. */
  fitted?: boolean;
  children: ReactNode;
}) {
  usePageTitle(where, title);
  const { data: session } = useSession();
  return (
    <div className={`flex min-h-screen flex-col ${fitted ? '[@media(min-height:720px)]:h-dvh' : ''}`}>
      <a href="#main" className="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-card focus:p-3">
        Skip to the work
      </a>
      <Alone />
      <header className="border-b-2 border-edge bg-paper">
        <div className={`flex min-h-13 items-center gap-x-4 px-4 ${stem ? 'max-lg:flex-wrap' : 'flex-wrap'}`}>
          <Link to="/" className="flex min-h-11 items-center gap-2 font-bold">
            <img src="/mark.svg" alt="" width="28" height="28" /> Wise Loom
          </Link>
          <div className={`flex flex-1 items-baseline gap-3 ${stem ? 'min-w-0' : 'min-w-24'}`}>
            <h1 title={title} className="max-w-[min(22rem,100%)] shrink-0 truncate text-lg font-bold">
              {title}
            </h1>
            {note && <span className="truncate text-sm text-soft">{note}</span>}
          </div>
          {tabs && (
            <nav aria-label={tabsLabel} className="flex shrink-0 self-stretch max-sm:w-full max-sm:flex-wrap">
              {tabs.map((t) => (
                <NavLink
                  key={t.to}
                  to={t.to}
                  end={t.to === '/'}
                  className={({ isActive }) =>
                    `flex min-h-11 items-center border-b-4 font-bold whitespace-nowrap ${stem ? 'px-2.5 xl:px-4' : 'px-2'} ${(t.here ?? isActive) ? 'border-copper' : 'border-transparent text-soft hover:text-ink'}`
                  }
                >
                  {t.label}
                </NavLink>
              ))}
            </nav>
          )}
          <Person pushed={!tabs} />
        </div>
        {session?.person?.mayChange === false && (
          <p className="border-t border-line bg-well px-4 py-1">
            <b>You look on.</b> Everything can be read here; changes are a technician’s or a lead’s.
          </p>
        )}
        {stem && <div className="border-t border-line bg-paper px-4 py-1">{stem}</div>}
      </header>
      <main id="main" className="flex min-h-0 flex-1 flex-col">
        {children}
      </main>
      <AtWork />
    </div>
  );
}

const nextLight = { system: 'day', day: 'night', night: 'system' } as const;
const lightWords = { system: 'as set', day: 'day', night: 'night' };

function Person({ pushed }: { pushed: boolean }) {
  const { data: session } = useSession();
  const client = useQueryClient();
  const [light, setLight] = useLight();
  const leave = useMutation({
    mutationFn: () => given(api.DELETE('/api/session')),
    onSuccess: async () => {
      await forgetKept();
      // Who is signed in comes first: the page is gone then, and asks for nothing that a stranger is refused.
      await client.resetQueries({ queryKey: keys.session, exact: true });
      client.removeQueries({ predicate: (query) => query.queryKey[0] !== keys.session[0] });
    },
  });
  return (
    <div className={`flex items-center gap-3 text-sm whitespace-nowrap ${pushed ? 'ml-auto' : ''}`}>
      <button
        type="button"
        className="min-h-11 cursor-pointer text-soft hover:text-ink"
        onClick={() => setLight(nextLight[light])}
      >
        {`Light: ${lightWords[light]}`}
      </button>
      <Link to="/me" className="flex min-h-11 items-center gap-1 hover:text-copper">
        <span className="max-xl:hidden">{session?.person?.name}</span>
        <span className="text-soft max-xl:hidden">{session?.person?.role}</span>
        <span className="text-soft underline xl:hidden">You</span>
      </Link>
      <button
        type="button"
        className="min-h-11 cursor-pointer text-soft underline hover:text-ink"
        onClick={() => leave.mutate()}
      >
        Sign out
      </button>
    </div>
  );
}
