import type { Problem } from '../api/client';
import { Scroll } from './Scroll';

/** Problems, each with its place. */
export function ProblemRows({ label, problems }: { label: string; problems: readonly Problem[] }) {
  return (
    <Scroll label={`All: ${label}`} className="mt-2 max-h-96">
      <ol className="space-y-1" aria-label={label}>
        {problems.map((p, i) => (
          <li key={i} className="grid grid-cols-[minmax(10rem,auto)_1fr] gap-4 border-t border-line pt-1">
            <code className="font-mono text-sm text-soft">{p.at || 'whole file'}</code>
            <span>{p.message}</span>
          </li>
        ))}
      </ol>
    </Scroll>
  );
}
