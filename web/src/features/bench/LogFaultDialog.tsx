import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState, type SubmitEvent } from 'react';
import { useNavigate } from 'react-router';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { uuidv7 } from '../../api/uuid';
import { Button, Field, TextArea } from '../../ui/Controls';
import { ErrorNotice, Notice } from '../../ui/Notice';
import { Sheet } from '../../ui/Sheet';
import { CauseList } from '../faults/CauseList';
import { useOutbox } from './Outbox';

/** Logs a fault from a failing step: what was seen, and what the readings so far point to. */
export function LogFaultDialog({
  run,
  job,
  step,
  onClose,
}: {
  run: Schemas['RunView'];
  job: Schemas['JobView'];
  step: Schemas['StepView'];
  onClose: () => void;
}) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const outbox = useOutbox();
  const unsaved = outbox.waiting.some((w) => w.runId === run.id);
  const [seen, setSeen] = useState(
    `${step.black} to ${step.red ?? 'all other circuits'} reads ${step.standing.last?.text ?? ''}, should be ${step.limitsText}.`,
  );
  const [key] = useState(uuidv7);
  const causes = useQuery({
    queryKey: keys.causes(run.id, step.number, step.standing.last?.key),
    queryFn: () =>
      given(api.GET('/api/runs/{id}/steps/{step}/causes', { params: { path: { id: run.id, step: step.number } } })),
    enabled: !unsaved,
  });
  const log = useMutation({
    mutationFn: () =>
      given(
        api.POST('/api/runs/{id}/faults', { params: { path: { id: run.id } }, body: { key, step: step.number, seen } }),
      ),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: keys.faults(job.id) });
      onClose();
    },
  });
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    log.mutate();
  };
  const logged = useQuery({
    queryKey: keys.faults(job.id),
    queryFn: () => given(api.GET('/api/jobs/{id}/faults', { params: { path: { id: job.id } } })),
  });
  const before = logged.data?.faults.filter((f) => f.step === step.number && f.state !== 'proven') ?? [];
  return (
    <Sheet title={`Log a fault at step ${step.number}`} onClose={onClose}>
      <form onSubmit={submit} className="space-y-4">
        {unsaved && (
          <Notice tone="mind">
            The reading of this step has not reached the server yet. It is kept here; log the fault when it is saved.
          </Notice>
        )}
        {before.map((f) => (
          <Notice key={f.number} tone="mind">
            Fault {f.number} was logged from this step and is not proven yet.{' '}
            <button
              type="button"
              className="cursor-pointer underline"
              onClick={() => void navigate(`/jobs/${job.id}/faults`)}
            >
              Look at it
            </button>
          </Notice>
        ))}
        <Field label="What was seen">
          <TextArea value={seen} onChange={(e) => setSeen(e.target.value)} required maxLength={1000} />
        </Field>
        <section aria-labelledby="causes">
          <h3 id="causes" className="mb-2 font-bold">
            What would explain it
          </h3>
          <ErrorNotice error={causes.error} />
          {causes.data && <CauseList causes={causes.data} most={3} />}
        </section>
        <ErrorNotice error={log.error} />
        <div className="flex gap-3">
          <Button kind="main" type="submit" disabled={log.isPending || unsaved}>
            Log the fault
          </Button>
          <Button onClick={onClose}>Back to the bench</Button>
        </div>
      </form>
    </Sheet>
  );
}
