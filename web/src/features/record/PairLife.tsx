import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { useSearchParams } from 'react-router';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { Field, Select } from '../../ui/Controls';
import { ErrorNotice, Loading } from '../../ui/Notice';
import { Scroll } from '../../ui/Scroll';
import { TableHead } from '../../ui/TableHead';
import { MarkShape } from '../../ui/Verdict';
import { PairPlot } from './PairPlot';

/** Resistance of a pair over this loom's life, and over all looms of the same name. */
export function PairLife({
  jobId,
  steps,
  at,
}: {
  jobId: number;
  steps: readonly Schemas['StepView'][];
  /** The connector that the page is narrowed to. */
  at: string | null;
}) {
  const [search, setSearch] = useSearchParams();
  const pairs = useMemo(
    () =>
      steps
        .filter((s) => s.kind === 'continuity' && s.red !== null)
        .filter((s) => !at || [s.black, s.red].some((p) => p?.split(':')[0] === at)),
    [steps, at],
  );
  const chosen = pairs.find((s) => `${s.black} ${s.red ?? ''}` === search.get('pair')) ?? pairs[0];
  const [a, b] = [chosen?.black ?? '', chosen?.red ?? ''];
  const life = useQuery({
    queryKey: keys.pair(jobId, a, b),
    queryFn: () => given(api.GET('/api/jobs/{id}/pair', { params: { path: { id: jobId }, query: { a, b } } })),
    enabled: chosen !== undefined,
  });
  return (
    <section aria-labelledby="pair" className="min-w-0 space-y-3">
      <h2 id="pair" className="text-2xl font-bold">
        A pair over time
      </h2>
      {pairs.length === 0 && <p className="text-soft">No step measures a joined pair{at && ` at ${at}`}.</p>}
      {pairs.length > 0 && (
        <div className="max-w-md">
          <Field label="Pair" hint="Readings of this loom, and of all looms of the same name">
            <Select
              value={`${a} ${b}`}
              onChange={(e) =>
                setSearch(
                  (now) => {
                    now.set('pair', e.target.value);
                    return now;
                  },
                  { replace: true },
                )
              }
            >
              {pairs.map((s) => (
                <option key={s.number} value={`${s.black} ${s.red ?? ''}`}>
                  {s.black} – {s.red}
                  {s.circuit && ` · ${s.circuit}`}
                </option>
              ))}
            </Select>
          </Field>
        </div>
      )}
      <ErrorNotice error={life.error} />
      {chosen && life.isPending && <Loading what="the readings" />}
      {life.data && (
        <>
          <p className="text-lg">{life.data.words}</p>
          {life.data.readings.length > 0 && (
            <>
              <PairPlot readings={life.data.readings} />
              <Scroll label="Readings of this pair">
                <table className="w-full text-left">
                  <TableHead names={['When', 'Reads', 'Must read', 'Loom', 'Revision', 'Run', 'Meter', 'By']} />
                  <tbody>
                    {[...life.data.readings].reverse().map((r, i) => (
                      <tr key={i} className={`border-b border-line ${r.counts ? '' : 'text-soft'}`}>
                        <td className="py-1 pr-3 whitespace-nowrap">{new Date(r.at).toLocaleString()}</td>
                        <td className="pr-3 font-mono whitespace-nowrap">
                          <MarkShape mark={r.verdict} /> {r.text}
                          {!r.counts && ' (does not count)'}
                        </td>
                        <td className="pr-3 font-mono whitespace-nowrap">{r.limitsText}</td>
                        <td className="pr-3">
                          {r.machine}
                          {r.mine && <b> (this one)</b>}
                        </td>
                        <td className="pr-3">{r.revision}</td>
                        <td className="pr-3">{r.run}</td>
                        <td className="pr-3">{r.meter}</td>
                        <td>{r.by}</td>
                      </tr>
                    ))}
                  </tbody>
                </table>
              </Scroll>
            </>
          )}
        </>
      )}
    </section>
  );
}
