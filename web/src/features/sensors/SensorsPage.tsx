import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import { Navigate, useSearchParams } from 'react-router';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { ErrorNotice, Loading } from '../../ui/Notice';
import { useJob } from '../jobs/JobShell';
import { LoomNav } from '../loom/LoomNav';
import { FitTool } from './FitTool';
import { GaugeTool } from './GaugeTool';
import { NtcCard } from './NtcCard';
import { TransducerCard } from './TransducerCard';
import { UnknownTool } from './UnknownTool';

/** Curves of the loom's sensors, and tools for sensors that no sheet knows. */
export function SensorsPage() {
  const { job, loom } = useJob();
  return loom ? <Sensors job={job.id} loom={loom} /> : <Navigate to={`/jobs/${job.id}/import`} replace />;
}

const tools = [
  ['fit', 'Fit a curve'],
  ['gauge', 'Sender and gauge'],
  ['unknown', 'Unknown sensor'],
] as const;

function Sensors({ job, loom }: { job: number; loom: Schemas['LoomView'] }) {
  const { at, point } = useJob();
  const [search, setSearch] = useSearchParams();
  const sensors = useQuery({
    queryKey: keys.sensors(loom.revisionId),
    queryFn: () => given(api.GET('/api/revisions/{id}/sensors', { params: { path: { id: loom.revisionId } } })),
    staleTime: Infinity,
  });
  const asked = search.get('of');
  const shown = sensors.data?.filter((s) => !at || s.at.some((p) => p.split(':')[0] === at));
  const tool = tools.find(([t]) => t === asked)?.[0];
  const sensor = tool ? undefined : (sensors.data?.find((s) => s.ref === asked) ?? shown?.[0]);
  const plugs = sensor?.at.map((p) => p.split(':')[0] ?? '').join(' ') ?? '';
  useEffect(() => {
    point([...new Set(plugs.split(' '))]);
    return () => point([]);
  }, [point, plugs]);
  const choose = (of: string) =>
    setSearch((now) => {
      now.set('of', of);
      return now;
    });
  const letGo = () =>
    setSearch((now) => {
      now.delete('at');
      return now;
    });
  const item = (of: string, label: string, note: string) => (
    <li key={of}>
      <button
        type="button"
        aria-current={of === (tool ?? sensor?.ref)}
        onClick={() => choose(of)}
        className={`block min-h-11 w-full cursor-pointer border-l-4 px-3 py-1 text-left hover:bg-well ${of === (tool ?? sensor?.ref) ? 'border-copper bg-well font-bold' : 'border-transparent'}`}
      >
        {label} <span className="block text-sm font-normal text-soft">{note}</span>
      </button>
    </li>
  );
  return (
    <div className="flex flex-1 flex-col">
      <LoomNav job={job} />
      <ErrorNotice error={sensors.error} />
      {sensors.isPending && <Loading what="the sensors" />}
      {sensors.data && shown && (
        <div className="grid flex-1 gap-6 p-4 md:grid-cols-[17rem_1fr]">
          <nav aria-label="Sensors" className="space-y-4">
            <ul>{shown.map((s) => item(s.ref, s.title, s.at.join(', ')))}</ul>
            {shown.length === 0 && (
              <p className="px-3 text-soft">
                No sensor with a curve {at ? `at ${at}.` : 'in this loom.'}{' '}
                {at && sensors.data.length > 0 && (
                  <button type="button" className="min-h-11 cursor-pointer underline" onClick={letGo}>
                    All {sensors.data.length} of this loom
                  </button>
                )}
              </p>
            )}
            <ul className="border-t border-line pt-2">{tools.map(([t, label]) => item(t, label, ''))}</ul>
          </nav>
          <section aria-label="Sensor" className="min-w-0 space-y-4">
            {tool === 'fit' && <FitTool />}
            {tool === 'gauge' && <GaugeTool />}
            {tool === 'unknown' && <UnknownTool />}
            {sensor && (
              <>
                <h2 className="text-2xl font-bold">
                  {sensor.title} <span className="font-mono text-lg font-normal text-soft">{sensor.at.join(', ')}</span>
                </h2>
                {sensor.ntc ? (
                  <NtcCard key={sensor.ref} ntc={sensor.ntc} />
                ) : (
                  <TransducerCard key={sensor.ref} scale={sensor.scale} />
                )}
              </>
            )}
          </section>
        </div>
      )}
    </div>
  );
}
