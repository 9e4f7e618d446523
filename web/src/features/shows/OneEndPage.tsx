import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Navigate } from 'react-router';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { Field, Select } from '../../ui/Controls';
import { ErrorNotice, Loading } from '../../ui/Notice';
import { Scroll } from '../../ui/Scroll';
import { TableHead } from '../../ui/TableHead';
import { useJob } from '../jobs/JobShell';
import { LoomNav } from '../loom/LoomNav';

/** Everything that reads from one plug with all far ends fitted. */
export function OneEndPage() {
  const { job, loom } = useJob();
  return loom ? <OneEnd job={job.id} loom={loom} /> : <Navigate to={`/jobs/${job.id}/import`} replace />;
}

function OneEnd({ job, loom }: { job: number; loom: Schemas['LoomView'] }) {
  const { at, point } = useJob();
  const [meter, setMeter] = useState('hand');
  const test = useQuery({
    queryKey: keys.oneEnd(loom.revisionId, at, meter),
    queryFn: () =>
      given(
        api.GET('/api/revisions/{id}/one-end', {
          params: { path: { id: loom.revisionId }, query: { meter, ...(at ? { plugs: at } : {}) } },
        }),
      ),
    staleTime: Infinity,
  });
  return (
    <div className="flex flex-1 flex-col">
      <LoomNav job={job} />
      <div className="space-y-4 p-4">
        <div className="flex flex-wrap items-end gap-6">
          <p className="max-w-3xl text-lg">
            Everything plugged in except the plug in hand{test.data && <b> ({test.data.plugs.join(', ')})</b>}, battery
            disconnected, key off. Each line is one reading between two of its cavities, at{' '}
            {test.data?.ambientC ?? loom.ambientC} °C.
          </p>
          <div className="w-56">
            <Field label="Meter">
              <Select value={meter} onChange={(e) => setMeter(e.target.value)}>
                <option value="hand">Hand meter, two leads</option>
                <option value="bench">Bench meter, four leads</option>
              </Select>
            </Field>
          </div>
        </div>
        <ErrorNotice error={test.error} />
        {test.isPending && <Loading what="the test" />}
        {test.data && (
          <>
            <Scroll label="Readings from one end">
              <table className="w-full text-left text-[0.95rem]">
                <TableHead
                  names={['Red', 'Black', 'Must read', 'Probes exchanged', 'Through', 'Proves wires', 'Surely notices']}
                  cell="pr-4"
                />
                <tbody>
                  {test.data.readings.map((r) => (
                    <tr
                      key={`${r.red} ${r.black}`}
                      className="border-b border-line align-top hover:bg-well"
                      onPointerEnter={() => point([...new Set([r.red, r.black].map((p) => p.split(':')[0] ?? ''))])}
                      onPointerLeave={() => point([])}
                    >
                      <th scope="row" className="py-1 pr-4 font-mono font-semibold whitespace-nowrap">
                        {r.red}
                      </th>
                      <td className="py-1 pr-4 font-mono whitespace-nowrap">{r.black}</td>
                      <td className="py-1 pr-4 font-mono font-semibold whitespace-nowrap">{r.reads}</td>
                      <td className="py-1 pr-4 font-mono whitespace-nowrap">{r.reversed ?? 'the same'}</td>
                      <td className="py-1 pr-4">{r.devices.join(', ') || 'metal only'}</td>
                      <td className="py-1 pr-4 text-soft">
                        {r.wires.length > 8
                          ? `${r.wires.slice(0, 8).join(' ')} and ${r.wires.length - 8} more`
                          : r.wires.join(' ')}
                      </td>
                      <td className="py-1 whitespace-nowrap">{r.notices}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </Scroll>
            {test.data.alone.length > 0 && (
              <p>
                <b>Nothing leads back to this plug</b> from{' '}
                <span className="font-mono">{test.data.alone.join(' ')}</span>: test these from their far ends.
              </p>
            )}
            <p className="text-soft">
              Left out: {test.data.leftOut.join(', ') || 'nothing'}. Controllers are unplugged for this test; a battery
              in the circuit would spoil every reading.
            </p>
          </>
        )}
      </div>
    </div>
  );
}
