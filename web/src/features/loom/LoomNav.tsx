import { NavLink, useSearchParams } from 'react-router';
import { loomRow } from '../../pages';

/** What one can ask of a loom; the connector that the page is narrowed to goes along. */
export function LoomNav({ job }: { job: number }) {
  const [search] = useSearchParams();
  const at = search.get('at');
  return (
    <nav aria-label="About the loom" className="flex flex-wrap gap-x-1 border-b border-line px-3">
      {loomRow.map(({ path: to, label }) => (
        <NavLink
          key={to}
          to={{ pathname: `/jobs/${job}/${to}`, search: at ? new URLSearchParams({ at }).toString() : '' }}
          className={({ isActive }) =>
            `flex min-h-10 items-center border-b-4 px-3 ${isActive ? 'border-copper font-bold' : 'border-transparent text-soft hover:text-ink'}`
          }
        >
          {label}
        </NavLink>
      ))}
    </nav>
  );
}
