import { useState } from 'react';
import type { Schemas } from '../../api/client';
import { Button, Input, Select } from '../../ui/Controls';
import type { Decisions } from './MergePage';

type View = Schemas['MergeView'];
type What = Schemas['LonelyDecision'];

const leftChoices: [What, string][] = [
  ['insulate', 'Keep, insulate'],
  ['leave-out', 'Leave out'],
];
const rightChoices: [What, string][] = [
  ['leave-out', 'Leave out, plug the cavity'],
  ['option-tail', 'Option tail'],
  ['relay', 'Relay with tail'],
];

/** What only one side has: a decision for each line, or for all that are still open. */
export function Rest({ view, onDecide }: { view: View; onDecide: (d: Decisions) => void }) {
  const d = view.decisions;
  const pairedLeft = new Set(d.pairs.map((p) => p.left));
  const pairedRight = new Set(d.pairs.map((p) => p.right));
  return (
    <div className="grid min-h-0 gap-5 lg:grid-cols-2">
      <Half
        title={`Only on ${view.leftTitle}`}
        lines={view.left.filter((l) => !pairedLeft.has(l.place))}
        others={view.right.filter((l) => !pairedRight.has(l.place))}
        choices={leftChoices}
        made={d.left}
        onMade={(left) => onDecide({ ...d, left })}
        onJoin={(left, right) =>
          onDecide({
            ...d,
            pairs: [...d.pairs, { left, right }],
            left: d.left.filter((x) => x.place !== left),
            right: d.right.filter((x) => x.place !== right),
          })
        }
      />
      <Half
        title={`Only on ${view.rightTitle}`}
        lines={view.right.filter((l) => !pairedRight.has(l.place))}
        others={[]}
        choices={rightChoices}
        made={d.right}
        onMade={(right) => onDecide({ ...d, right })}
      />
    </div>
  );
}

function Half({
  title,
  lines,
  others,
  choices,
  made,
  onMade,
  onJoin,
}: {
  title: string;
  lines: readonly Schemas['MergeLine'][];
  others: readonly Schemas['MergeLine'][];
  choices: readonly [What, string][];
  made: readonly Schemas['LonelyView'][];
  onMade: (made: Schemas['LonelyView'][]) => void;
  onJoin?: (left: string, right: string) => void;
}) {
  const [find, setFind] = useState('');
  const decided = new Map(made.map((m) => [m.place, m.decision]));
  const open = lines.filter((l) => !decided.has(l.place));
  const set = (place: string, decision: What) =>
    onMade([...made.filter((m) => m.place !== place), { place, decision }]);
  const shown = lines.filter((l) => `${l.place} ${l.function} ${l.role}`.toLowerCase().includes(find.toLowerCase()));
  return (
    <section aria-label={title} className="min-w-0 space-y-2">
      <h2 className="text-xl font-bold">
        {title}: {lines.length} <span className="font-normal text-soft">{open.length} open</span>
      </h2>
      <div className="flex flex-wrap items-center gap-2">
        <div className="w-52">
          <Input
            aria-label={`Find ${title.toLowerCase()}`}
            placeholder="Find …"
            value={find}
            onChange={(e) => setFind(e.target.value)}
          />
        </div>
        {choices.slice(0, 1).map(([what, label]) => (
          <Button
            key={what}
            disabled={open.length === 0}
            onClick={() => onMade([...made, ...open.map((l) => ({ place: l.place, decision: what }))])}
          >
            All open: {label.toLowerCase()}
          </Button>
        ))}
      </div>
      <ul className="max-h-[32rem] overflow-y-auto border-2 border-edge bg-card">
        {shown.map((l) => (
          <li
            key={l.place}
            className="grid grid-cols-[minmax(0,1fr)_13rem] items-center gap-3 border-b border-line px-3 py-1"
          >
            <span className="min-w-0">
              <span className="font-mono">{l.place}</span> <b>{l.function || 'not named'}</b>
              <span className="block text-sm text-soft">{l.role}</span>
            </span>
            <Select
              aria-label={`Decision for ${l.place}`}
              value={decided.get(l.place) ?? ''}
              onChange={(e) =>
                e.target.value.startsWith('join ')
                  ? onJoin?.(l.place, e.target.value.slice(5))
                  : set(l.place, e.target.value as What)
              }
            >
              <option value="" disabled>
                open
              </option>
              {choices.map(([what, label]) => (
                <option key={what} value={what}>
                  {label}
                </option>
              ))}
              {onJoin && others.length > 0 && (
                <optgroup label="Or join by hand with">
                  {others.map((o) => (
                    <option key={o.place} value={`join ${o.place}`}>
                      {o.place} {o.function}
                    </option>
                  ))}
                </optgroup>
              )}
            </Select>
          </li>
        ))}
      </ul>
    </section>
  );
}
