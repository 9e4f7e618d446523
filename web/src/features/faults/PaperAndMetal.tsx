import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { uuidv7 } from '../../api/uuid';
import { Button } from '../../ui/Controls';
import { ErrorNotice } from '../../ui/Notice';

/** What the drawing says and what the readings say, side by side; the metal wins, and then the drawing is corrected. */
export function PaperAndMetal({
  job,
  run,
  fault,
  cause,
}: {
  job: Schemas['JobView'];
  run: number;
  /** Number of the logged fault; null while it is not logged. */
  fault: number | null;
  cause: Schemas['CauseView'];
}) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const [key] = useState(uuidv7);
  const correct = useMutation({
    mutationFn: () =>
      given(
        api.POST('/api/runs/{id}/faults/{fault}/correct-drawing', {
          params: { path: { id: run, fault: fault ?? 0 } },
          body: { key, faults: cause.faults },
        }),
      ),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: keys.job(job.id) });
      await client.invalidateQueries({ queryKey: keys.bench(job.id) });
      await client.invalidateQueries({ queryKey: keys.faults(job.id) });
      void navigate(`/jobs/${job.id}/revisions`);
    },
  });
  if (cause.disputed.length === 0) return null;
  return (
    <section aria-labelledby="paper" className="max-w-4xl border-2 border-edge p-4">
      <h4 id="paper" className="text-lg font-bold">
        The paper says, the metal says
      </h4>
      <table className="my-2 w-full border-collapse text-left">
        <thead>
          <tr className="border-b-2 border-edge">
            <th className="py-1 pr-4">Wire</th>
            <th className="py-1 pr-4">The paper: revision {job.revision}</th>
            <th className="py-1">The metal: the readings</th>
          </tr>
        </thead>
        <tbody>
          {cause.disputed.slice(0, 12).map((d) => (
            <tr key={d.wire} className="border-b border-line">
              <td className="py-1 pr-4">
                <b className="font-mono">{d.wire}</b> <span className="text-soft">{d.colour}</span>
              </td>
              <td className="py-1 pr-4 font-mono">{d.paper}</td>
              <td className="py-1 font-mono">{d.metal ?? 'is not there'}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {cause.disputed.length > 12 && <p className="text-soft">and {cause.disputed.length - 12} more wires.</p>}
      <p>{cause.settles}</p>
      <ErrorNotice error={correct.error} />
      <p className="mt-3 flex flex-wrap items-center gap-3">
        <Button changes disabled={fault === null || correct.isPending} onClick={() => correct.mutate()}>
          The paper was wrong: correct the drawing
        </Button>
        <span className="text-soft">
          {fault === null
            ? 'Log the fault first; what became of it stays in the log.'
            : 'Makes a new revision with these ends; a run on it carries over what is proven.'}
        </span>
      </p>
    </section>
  );
}
