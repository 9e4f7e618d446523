import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useRef, useState, type DragEvent } from 'react';
import { useNavigate } from 'react-router';
import { importLoom } from '../../api/client';
import { Button } from '../../ui/Controls';
import { ErrorNotice, Notice } from '../../ui/Notice';
import { useJob } from '../jobs/JobShell';

/** Brings a loom file into a job: it is taken whole, or every problem is listed at its place. */
export function ImportPage() {
  const { job } = useJob();
  const client = useQueryClient();
  const navigate = useNavigate();
  const picker = useRef<HTMLInputElement>(null);
  const [name, setName] = useState('');
  const [over, setOver] = useState(false);
  const send = useMutation({
    mutationFn: (file: File) => importLoom(job.id, file),
    onSuccess: async (taken) => {
      await client.invalidateQueries({ queryKey: ['job', job.id] });
      await client.invalidateQueries({ queryKey: ['bench', job.id] });
      await client.invalidateQueries({ queryKey: ['jobs'] });
      if (taken.warnings.length === 0) await navigate(`/jobs/${job.id}/loom`);
    },
  });
  const take = (file: File | undefined) => {
    if (!file) return;
    setName(file.name);
    send.mutate(file);
  };
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    take(event.dataTransfer.files[0]);
  };
  return (
    <div className="mx-auto w-full max-w-5xl space-y-5 p-6">
      <h2 className="text-2xl font-bold">{job.revisionId ? 'Import a new revision' : 'Import the loom file'}</h2>
      {job.revisionId && (
        <Notice tone="mind">
          The new file becomes this job’s loom. Readings stay with the revision that they were taken on, and the bench
          starts anew.
        </Notice>
      )}
      <div
        onDragOver={(e) => {
          e.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={drop}
        className={`border-4 border-dashed p-12 text-center ${over ? 'border-copper bg-card' : 'border-edge'}`}
      >
        <p className="mb-4 text-lg">Drop a loom file (JSON) here, or choose one.</p>
        <input
          ref={picker}
          type="file"
          accept=".json,application/json"
          className="sr-only"
          aria-label="Loom file"
          tabIndex={-1}
          onChange={(e) => take(e.target.files?.[0])}
        />
        <Button kind="main" onClick={() => picker.current?.click()} disabled={send.isPending}>
          Choose a file
        </Button>
        <p className="mt-4 text-soft">
          {send.isPending ? `Reading ${name} …` : 'Format wise-loom/loom, version 1, at most 8 MB.'}
        </p>
      </div>
      {send.error && <p className="text-soft">{name}</p>}
      <ErrorNotice error={send.error} />
      {send.data && (
        <Notice tone="good">
          <p className="font-bold">
            {send.data.name} {send.data.revision} is in: {send.data.connectors} connectors, {send.data.wires} wires.
          </p>
          <ul className="mt-2 list-disc pl-6">
            {send.data.warnings.map((w) => (
              <li key={w.at}>{w.message}</li>
            ))}
          </ul>
          <Button className="mt-3" onClick={() => void navigate(`/jobs/${job.id}/loom`)}>
            Show the loom
          </Button>
        </Notice>
      )}
    </div>
  );
}
