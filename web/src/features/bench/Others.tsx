import type { Schemas } from '../../api/client';

/** Who else is at this run now, and where their probes are. */
export function Others({ people }: { people: readonly Schemas['OnRunView'][] }) {
  const here = people.filter((p) => p.here && !p.isMe);
  if (here.length === 0) return null;
  return (
    <ul
      aria-label="Others on this run"
      className="flex flex-wrap gap-x-4 text-sm xl:absolute xl:right-0 xl:bottom-0 xl:z-10 xl:w-64 xl:border-t-2 xl:border-copper xl:bg-card xl:p-3"
      data-testid="others"
    >
      {here.map((p) => (
        <li key={p.person}>
          <b>{p.name}</b> is at{' '}
          {p.check ? (
            'the power-up'
          ) : (
            <span className="font-mono">
              {p.black} – {p.red ?? 'all others'}
            </span>
          )}
          {p.takes.length > 0 && <span className="text-soft"> and does {p.takes.length} connectors</span>}
        </li>
      ))}
    </ul>
  );
}
