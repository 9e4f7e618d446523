import { useEffect, useState, type ReactNode } from 'react';
import type { Schemas } from '../../api/client';
import type { Side } from '../../ui/Face';
import { Notice } from '../../ui/Notice';
import { useJob } from '../jobs/JobShell';
import { CauseFaces } from './CauseFaces';
import { CauseList } from './CauseList';
import { LookCard } from './LookCard';
import { NextCard } from './NextCard';
import { OwnSighting } from './OwnSighting';
import { PaperAndMetal } from './PaperAndMetal';
import { RankingHistory } from './RankingHistory';

/** What the readings of one case say: causes with their places, what to measure next, and how the ranking moved. */
export function CaseBody({
  log,
  own,
  fault,
  action,
}: {
  log: Schemas['FaultsView'];
  own: Schemas['CaseView'];
  fault: number | null;
  action?: ((cause: Schemas['CauseView']) => ReactNode) | undefined;
}) {
  const { job, loom, point } = useJob();
  const [title, setTitle] = useState<string>();
  const [side, setSide] = useState<Side>('wire');
  const cause = own.causes.find((c) => c.title === title) ?? own.causes[0];
  const connectors = [...new Set(cause?.places.filter((p) => p.includes(':')).map((p) => p.split(':')[0] ?? ''))].join(
    ' ',
  );
  useEffect(() => {
    point(connectors === '' ? [] : connectors.split(' '));
    return () => point([]);
  }, [connectors, point]);
  return (
    <div className="space-y-6">
      {own.doubts.map((d) => (
        <Notice key={d} tone="mind">
          {d}
        </Notice>
      ))}
      {(own.doubts.length === 0 || own.causes.length > 0) && (
        <CauseList causes={own.causes} most={5} chosen={cause} onChoose={(c) => setTitle(c.title)} action={action} />
      )}
      {own.look && <LookCard key={own.look.text} job={job.id} log={log} look={own.look} />}
      {loom && (own.next ?? own.look === null) && (
        <NextCard
          job={job.id}
          log={log}
          loom={loom}
          next={own.next}
          isSure={own.isSure}
          side={side}
          onTurn={() => setSide((s) => (s === 'wire' ? 'mating' : 'wire'))}
        />
      )}
      {log.runId && <OwnSighting job={job.id} run={log.runId} lastEvent={log.lastEvent} />}
      {cause && loom && <CauseFaces cause={cause} loom={loom} side={side} />}
      <RankingHistory history={own.history} />
      {cause && (
        <PaperAndMetal
          key={`${fault ?? 0} ${cause.title}`}
          job={job}
          run={log.runId ?? 0}
          fault={fault}
          cause={cause}
        />
      )}
      {own.unseeable.length > 0 && (
        <details>
          <summary className="cursor-pointer underline decoration-line">What these readings cannot show</summary>
          <ul className="mt-2 list-disc space-y-1 pl-6 text-soft">
            {own.unseeable.map((u) => (
              <li key={u}>{u}</li>
            ))}
          </ul>
        </details>
      )}
    </div>
  );
}
