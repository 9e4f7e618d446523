import { useState } from 'react';
import type { Schemas } from '../../api/client';
import { Button } from '../../ui/Controls';
import { Sheet } from '../../ui/Sheet';

/** Connectors that are not at hand: their steps wait, and the way is planned again without them. */
export function AwayDialog({
  loom,
  step,
  away,
  onShare,
  onClose,
}: {
  loom: Schemas['LoomView'];
  step: Schemas['StepView'];
  away: readonly string[];
  /** Opens the sharing of the plan with others. */
  onShare: () => void;
  onClose: (away: string[] | null) => void;
}) {
  const [chosen, setChosen] = useState(() => new Set(away));
  const here = [step.black, step.red].map((p) => p?.split(':')[0]);
  const ordered = [...loom.connectors].sort((a, b) => Number(here.includes(b.ref)) - Number(here.includes(a.ref)));
  return (
    <Sheet title="Not at hand" onClose={() => onClose(null)}>
      <p className="mb-3">
        Steps at these connectors wait; nothing that was measured is lost. The way goes on without them from where the
        probes stand.
      </p>
      <ul className="max-h-[50vh] columns-2 overflow-y-auto">
        {ordered.map((c) => (
          <li key={c.ref}>
            <label className="flex min-h-11 cursor-pointer items-center gap-3">
              <input
                type="checkbox"
                className="size-6 accent-copper"
                checked={chosen.has(c.ref)}
                onChange={() => {
                  const next = new Set(chosen);
                  if (!next.delete(c.ref)) next.add(c.ref);
                  setChosen(next);
                }}
              />
              <span className="min-w-0 truncate">
                <b>{c.ref}</b> {c.title}
              </span>
            </label>
          </li>
        ))}
      </ul>
      <div className="mt-4 flex gap-3">
        <Button kind="main" onClick={() => onClose([...chosen])}>
          Plan without them
        </Button>
        <Button changes onClick={onShare}>
          Share the plan with others …
        </Button>
        <Button onClick={() => onClose(null)}>Back to the bench</Button>
      </div>
    </Sheet>
  );
}
