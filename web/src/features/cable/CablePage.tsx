import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Navigate } from 'react-router';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { ErrorNotice, Loading, Notice } from '../../ui/Notice';
import { Scroll } from '../../ui/Scroll';
import { Tick } from '../../ui/Tick';
import { TableHead } from '../../ui/TableHead';
import { useJob } from '../jobs/JobShell';
import { LoomNav } from '../loom/LoomNav';

const riseWords: Record<Schemas['RiseClass'], string> = {
  cool: 'cool',
  warm: 'warm',
  hot: 'hot',
  'too-hot': 'too hot',
};

/** Drops, warmth and fuses over all key positions. */
export function CablePage() {
  const { job, loom } = useJob();
  return loom ? <Cable job={job.id} loom={loom} /> : <Navigate to={`/jobs/${job.id}/import`} replace />;
}

function Cable({ job, loom }: { job: number; loom: Schemas['LoomView'] }) {
  const { at } = useJob();
  const [all, setAll] = useState(false);
  const cable = useQuery({
    queryKey: keys.cable(loom.revisionId),
    queryFn: () => given(api.GET('/api/revisions/{id}/cable', { params: { path: { id: loom.revisionId } } })),
    staleTime: Infinity,
  });
  const ends = new Map(loom.wires.map((w) => [w.id, [w.from, w.to]]));
  const wires = cable.data?.wires
    .filter((w) => !at || ends.get(w.wire)?.some((e) => e.split(':')[0] === at))
    .filter((w) => all || w.flagged || w.ampsNumber >= 0.1)
    .sort((a, b) => b.ampsNumber - a.ampsNumber);
  return (
    <div className="flex flex-1 flex-col">
      <LoomNav job={job} />
      <ErrorNotice error={cable.error} />
      {cable.isPending && <Loading what="the currents" />}
      {cable.data && wires && (
        <div className="space-y-5 p-4">
          <section aria-label="To look at" className="space-y-2">
            <h2 className="text-xl font-bold">
              {cable.data.flags.length === 0 ? 'Nothing to look at' : `${cable.data.flags.length} to look at`}
            </h2>
            {cable.data.flags.length > 0 && (
              <Notice tone="wrong">
                <Scroll label="What to look at" className="max-h-56">
                  <ul className="space-y-1">
                    {cable.data.flags.map((f) => (
                      <li key={f.sentence}>{f.sentence}</li>
                    ))}
                  </ul>
                </Scroll>
              </Notice>
            )}
            <p className="text-soft">{cable.data.limits} Every condition of the loom is taken as so.</p>
          </section>
          <section aria-label="Wires at their worst">
            <div className="flex items-center gap-4">
              <h2 className="font-bold">
                Wires at their worst <span className="font-normal text-soft">{wires.length} shown</span>
              </h2>
              <label className="ml-auto flex min-h-10 cursor-pointer items-center gap-2">
                <Tick checked={all} onChange={setAll} />
                also those under 0.1 A
              </label>
            </div>
            <Scroll label="All wires">
              <table className="w-full text-left text-[0.95rem]">
                <TableHead
                  names={[
                    'Wire',
                    'Circuit',
                    'Section',
                    'Carries',
                    'May carry',
                    'Among',
                    'Key at',
                    'Loses',
                    'Of supply',
                    'Gets',
                  ]}
                />
                <tbody>
                  {wires.map((w) => (
                    <tr key={w.wire} className={`border-b border-line ${w.flagged ? 'bg-well font-bold' : ''}`}>
                      <th scope="row" className="py-1 pr-3 font-mono font-semibold">
                        {w.wire}
                      </th>
                      <td className="pr-3">{w.circuit}</td>
                      <td className="pr-3 whitespace-nowrap">{w.section}</td>
                      <td className="pr-3 font-mono whitespace-nowrap">{w.amps}</td>
                      <td className="pr-3 font-mono whitespace-nowrap">{w.mayCarry}</td>
                      <td className="pr-3 whitespace-nowrap">{w.bundle} wires</td>
                      <td className="pr-3">{w.worst}</td>
                      <td className="pr-3 font-mono whitespace-nowrap">{w.drop}</td>
                      <td className="pr-3 font-mono whitespace-nowrap">{w.dropShare}</td>
                      <td className="whitespace-nowrap">
                        {riseWords[w.rise]} <span className="text-soft">{w.riseText}</span>
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </Scroll>
          </section>
        </div>
      )}
    </div>
  );
}
