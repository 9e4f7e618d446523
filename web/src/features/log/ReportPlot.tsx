import type { Schemas } from '../../api/client';
import { Scroll } from '../../ui/Scroll';
import { TableHead } from '../../ui/TableHead';

/** How often each came back: a bar beside each row of its table, the repeats darker. */
export function ReportPlot({ title, shares }: { title: string; shares: Schemas['FaultShare'][] }) {
  const most = Math.max(1, ...shares.map((s) => s.count));
  return (
    <section aria-label={title} className="min-w-0 border-2 border-edge bg-card p-3">
      <h3 className="mb-1 text-lg font-bold">{title}</h3>
      {shares.length === 0 ? (
        <p className="text-soft">Nothing noted yet.</p>
      ) : (
        <Scroll label={`Table: ${title}`}>
          <table className="w-full text-left">
            <TableHead names={['Which', 'Faults', 'Again', 'Minutes', 'Each']} cell="py-1 pr-3" />
            <tbody>
              {shares.map((s) => (
                <tr key={s.name} className="border-t border-line">
                  <th scope="row" className="py-1 pr-3 font-normal">
                    {s.name}
                    <svg
                      viewBox="0 0 200 8"
                      preserveAspectRatio="none"
                      className="block h-2 w-full max-w-72"
                      aria-hidden="true"
                    >
                      <rect width={(200 * s.count) / most} height="8" className="fill-copper/60" />
                      <rect width={(200 * s.repeats) / most} height="8" className="fill-ink" />
                    </svg>
                  </th>
                  <td className="py-1 pr-3 text-right font-mono text-lg">{s.count}</td>
                  <td className="py-1 pr-3 text-right font-mono">{s.repeats}</td>
                  <td className="py-1 pr-3 text-right font-mono">{s.timed > 0 ? Math.round(s.minutes) : ''}</td>
                  <td className="py-1 text-right font-mono whitespace-nowrap">
                    {s.timed > 0 ? `${(s.minutes / s.timed).toFixed(0)} min` : ''}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          <p className="mt-1 text-sm text-soft">In ink: the same kind at the same place of such a loom once more.</p>
        </Scroll>
      )}
    </section>
  );
}
