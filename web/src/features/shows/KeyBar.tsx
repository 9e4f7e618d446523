import type { Schemas } from '../../api/client';
import { Tick } from '../../ui/Tick';
import { keys, type Key } from './useShows';

/** Where the key stands, and what else is so. */
export function KeyBar({
  state,
  at,
  set,
  onTurn,
  onToggle,
}: {
  state: Schemas['StateView'] | undefined;
  at: Key;
  /** Names that are so. */
  set: readonly string[];
  onTurn: (key: Key) => void;
  onToggle: (name: string) => void;
}) {
  return (
    <div className="flex flex-wrap items-start gap-x-5 gap-y-2 border-b border-line px-4 py-2">
      <div role="radiogroup" aria-label="Key position" className="flex">
        {keys.map((k) => (
          <button
            key={k}
            type="button"
            role="radio"
            aria-checked={k === at}
            onClick={() => onTurn(k)}
            className={`min-h-11 cursor-pointer border-2 border-l-0 px-3.5 first:rounded-l-sm first:border-l-2 last:rounded-r-sm ${k === at ? 'border-copper bg-copper font-bold text-on-copper' : 'border-edge bg-card hover:border-copper'}`}
          >
            {k}
          </button>
        ))}
      </div>
      {state && (
        <>
          <Choices label="Conditions" none="none so" of={state.conditions} set={set} onToggle={onToggle} />
          <Choices label="Drive an output" none="none driven" of={state.outputs} set={set} onToggle={onToggle} />
        </>
      )}
    </div>
  );
}

function Choices({
  label,
  none,
  of,
  set,
  onToggle,
}: {
  label: string;
  none: string;
  of: readonly string[];
  set: readonly string[];
  onToggle: (name: string) => void;
}) {
  if (of.length === 0) return null;
  const so = of.filter((name) => set.includes(name));
  return (
    <details className="relative">
      <summary className="flex min-h-11 cursor-pointer items-center gap-2 border-2 border-edge bg-card px-3">
        <b>{label}</b>
        <span className="max-w-72 truncate text-soft">{so.length > 0 ? so.join(', ') : none}</span>
      </summary>
      <div className="absolute z-30 max-h-80 w-80 overflow-y-auto border-2 border-edge bg-card p-2 shadow-lg">
        {of.map((name) => (
          <label key={name} className="flex min-h-10 cursor-pointer items-center gap-3 px-1">
            <Tick checked={set.includes(name)} onChange={() => onToggle(name)} />
            {name}
          </label>
        ))}
      </div>
    </details>
  );
}
