import type { Schemas } from '../../api/client';
import type { Check, View } from './words';

/** Who else is at this power-up now, and at which check; one click goes there. */
export function Colleagues({
  view,
  people,
  onGo,
}: {
  view: View;
  people: readonly Schemas['OnRunView'][];
  onGo: (check: Check) => void;
}) {
  const checks = view.stages.flatMap((s) => s.checks);
  const here = people.filter((p) => p.here && !p.isMe);
  if (here.length === 0) return null;
  return (
    <ul
      aria-label="Others at this power-up"
      className="flex flex-wrap gap-x-6 border-l-8 border-copper bg-card px-3 py-2"
    >
      {here.map((p) => {
        const check = checks.find((c) => c.id === p.check);
        return (
          <li key={p.person}>
            <b>{p.name}</b>{' '}
            {check ? (
              <>
                is at stage {check.stage}:{' '}
                <button type="button" className="cursor-pointer text-left underline" onClick={() => onGo(check)}>
                  {check.do}
                </button>
              </>
            ) : (
              'is at the bench'
            )}
          </li>
        );
      })}
    </ul>
  );
}
