import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { sendFile, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { Button } from '../../ui/Controls';
import { ErrorNotice } from '../../ui/Notice';
import { ProblemRows } from '../../ui/ProblemRows';
import { Tick } from '../../ui/Tick';
import { followRun } from '../bench/followRun';

/** Readings that were typed at another bench, or taken by a fixture elsewhere. */
export function BringIn({ jobId, run }: { jobId: number; run: Schemas['RunView'] }) {
  const client = useQueryClient();
  const [file, setFile] = useState<File | null>(null);
  const [later, setLater] = useState(false);
  const bring = useMutation({
    mutationFn: (chosen: File) =>
      sendFile<Schemas['BroughtInView']>(
        `/api/runs/${run.id}/bring-in?name=${encodeURIComponent(chosen.name.slice(0, 120))}&seen=${later ? run.lastEvent : 0}`,
        chosen,
      ),
    onSuccess: async (brought) => {
      await followRun(client, jobId, run.id, brought.lastEvent);
      await client.invalidateQueries({ queryKey: keys.pairs(jobId) });
    },
  });
  return (
    <section aria-labelledby="bring">
      <h2 id="bring" className="mb-2 text-2xl font-bold">
        Bring readings in
      </h2>
      <form
        className="space-y-3"
        onSubmit={(e) => {
          e.preventDefault();
          if (file) bring.mutate(file);
        }}
      >
        <p className="text-soft">
          A table with the columns black, red and one of ohm, volt, newton and look. Each row is judged by this run’s
          plan; a file that comes twice adds nothing twice.
        </p>
        <label className="block">
          <span className="mb-1 block font-bold">Readings file</span>
          <input
            type="file"
            accept=".csv,text/csv"
            className="w-full file:mr-3 file:min-h-11 file:cursor-pointer file:border-2 file:border-edge file:bg-card file:px-3 file:font-bold file:text-ink"
            onChange={(e) => {
              setFile(e.target.files?.[0] ?? null);
              bring.reset();
            }}
          />
        </label>
        <label className="flex min-h-11 cursor-pointer items-center gap-3">
          <Tick checked={later} onChange={setLater} />
          They were taken after all fixes that are noted here
        </label>
        <Button kind="main" type="submit" changes disabled={!file || bring.isPending}>
          {bring.isPending ? 'Bringing in …' : 'Bring them in'}
        </Button>
      </form>
      <div role="status" className="mt-3 space-y-2">
        {bring.data && <Brought brought={bring.data} />}
      </div>
      <ErrorNotice error={bring.error} />
    </section>
  );
}

function Brought({ brought }: { brought: Schemas['BroughtInView'] }) {
  const { stored, before, notCounting, left, refused } = brought;
  return (
    <>
      <p className="text-lg font-bold">
        {stored} stored{refused.length > 0 && `, ${refused.length} refused`}.
      </p>
      {before > 0 && <p>{before} were here already.</p>}
      {left > 0 && <p>{left} rows hold no value.</p>}
      {notCounting > 0 && (
        <p>
          {notCounting} are kept and prove nothing: they may be from before a fix, the meter was not right, or another
          reading weighs more.
        </p>
      )}
      {refused.length > 0 && <ProblemRows label="Refused rows" problems={refused} />}
    </>
  );
}
