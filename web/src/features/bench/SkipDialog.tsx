import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState, type SubmitEvent } from 'react';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { uuidv7 } from '../../api/uuid';
import { Button, Field, TextArea } from '../../ui/Controls';
import { ErrorNotice } from '../../ui/Notice';
import { Sheet } from '../../ui/Sheet';

/** Leaves a step out, with the reason that the pack will print. */
export function SkipDialog({
  run,
  jobId,
  step,
  onClose,
}: {
  run: Schemas['RunView'];
  jobId: number;
  step: Schemas['StepView'];
  onClose: (skipped: boolean) => void;
}) {
  const client = useQueryClient();
  const [reason, setReason] = useState('');
  const [key] = useState(uuidv7);
  const skip = useMutation({
    mutationFn: () =>
      given(
        api.POST('/api/runs/{id}/skips', {
          params: { path: { id: run.id } },
          body: { key, step: step.number, reason },
        }),
      ),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: keys.bench(jobId) });
      onClose(true);
    },
  });
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    skip.mutate();
  };
  return (
    <Sheet title={`Skip step ${step.number}`} onClose={() => onClose(false)}>
      <form onSubmit={submit} className="space-y-4">
        <Field
          label="Why"
          hint="The pack lists this step as not tested, with these words. More than the shop lets pass, or a feed or ground, needs a lead’s decision before release."
        >
          <TextArea value={reason} onChange={(e) => setReason(e.target.value)} required minLength={3} maxLength={400} />
        </Field>
        <ErrorNotice error={skip.error} />
        <div className="flex gap-3">
          <Button kind="main" type="submit" disabled={skip.isPending}>
            Skip it
          </Button>
          <Button onClick={() => onClose(false)}>Back to the bench</Button>
        </div>
      </form>
    </Sheet>
  );
}
