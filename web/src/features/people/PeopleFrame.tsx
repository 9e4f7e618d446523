import type { ReactNode } from 'react';
import { NavLink } from 'react-router';
import { ShopFrame } from '../../ui/ShopFrame';
import { useSession } from '../session/useSession';

const rows = [
  ['/me', 'You'],
  ['/people', 'People'],
  ['/people/log', 'Who came in'],
] as const;

/** Frame of the pages about people; a lead sees all of them. */
export function PeopleFrame({ title, children }: { title: string; children: ReactNode }) {
  const { data: session } = useSession();
  return (
    <ShopFrame title={title}>
      {session?.person?.isLead && (
        <nav aria-label="About people" className="flex flex-wrap gap-x-1 border-b border-line px-3">
          {rows.map(([to, label]) => (
            <NavLink
              key={to}
              to={to}
              end
              className={({ isActive }) =>
                `flex min-h-10 items-center border-b-4 px-3 ${isActive ? 'border-copper font-bold' : 'border-transparent text-soft hover:text-ink'}`
              }
            >
              {label}
            </NavLink>
          ))}
        </nav>
      )}
      <div className="mx-auto w-full max-w-6xl space-y-6 p-5">{children}</div>
    </ShopFrame>
  );
}
