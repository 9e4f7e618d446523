import { useEffect, useState } from 'react';
import { Button } from '../../ui/Controls';

/** The time that is left on a run without coolant. */
export function DryClock({ seconds }: { seconds: number }) {
  const [began, setBegan] = useState<number | null>(null);
  const [now, setNow] = useState(0);
  useEffect(() => {
    if (began === null) return;
    const tick = setInterval(() => setNow(Date.now()), 100);
    return () => clearInterval(tick);
  }, [began]);
  const left = began === null ? seconds : Math.max(0, seconds - (Math.max(now, began) - began) / 1000);
  return (
    <div
      className={`flex flex-wrap items-center gap-4 border-t-2 border-edge px-4 py-2 ${left === 0 ? 'bg-fail/20' : ''}`}
    >
      <span className="font-mono text-4xl font-semibold" role="timer" aria-label="Left without coolant">
        {left.toFixed(0)} s
      </span>
      <span className="text-lg">{left === 0 ? 'Stop the engine now.' : 'left without coolant'}</span>
      <Button onClick={() => setBegan(began === null ? Date.now() : null)}>
        {began === null ? 'The engine runs' : 'It stands'}
      </Button>
    </div>
  );
}
