import { Navigate, useSearchParams } from 'react-router';
import type { Schemas } from '../../api/client';
import { useJob } from '../jobs/JobShell';
import { ConnectorPanel } from './ConnectorPanel';
import { LoomNav } from './LoomNav';
import { WireTable } from './WireTable';

/** The loom: its connectors on the stem, one connector's faces and pins, and the wire table. */
export function LoomPage() {
  const { job, loom, at } = useJob();
  const [search] = useSearchParams();
  if (!loom) return <Navigate to={`/jobs/${job.id}/import`} replace />;
  const connector = loom.connectors.find((c) => c.ref === at);
  return (
    <div className="flex flex-1 flex-col">
      <LoomNav job={job.id} />
      <Facts loom={loom} />
      {connector && <ConnectorPanel connector={connector} ringed={search.get('cavity')} />}
      <WireTable loom={loom} at={at} />
    </div>
  );
}

function Facts({ loom }: { loom: Schemas['LoomView'] }) {
  const facts: [string, string][] = [
    ['connectors', String(loom.connectors.length)],
    ['wires', String(loom.wires.length)],
    ['splices', String(loom.splices)],
    ['nets', String(loom.nets)],
    ['stem', loom.stem.trunkMm > 0 ? `${(loom.stem.trunkMm / 1000).toFixed(2)} m` : 'not to scale'],
    ['supply', `${loom.supplyVolts} V`],
    ['limits for', `${loom.ambientC} °C`],
  ];
  return (
    <div className="flex flex-wrap items-baseline gap-x-6 gap-y-1 border-b border-line px-4 py-2">
      {facts.map(([what, value]) => (
        <span key={what}>
          <span className="text-soft">{what}</span> <span className="font-mono">{value}</span>
        </span>
      ))}
      <a
        className="ml-auto underline"
        href={`/api/revisions/${loom.revisionId}/file`}
        download={`${loom.name} ${loom.revision}.json`}
      >
        loom file
      </a>
    </div>
  );
}
