import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { uuidv7 } from '../../api/uuid';
import { Button, Field, TextArea } from '../../ui/Controls';
import { ErrorNotice } from '../../ui/Notice';
import { Sheet } from '../../ui/Sheet';

/** Lets something pass that stands against release, with the reason that the pack prints; a technician proposes it. */
export function LetPassSheet({
  job,
  run,
  hold,
  lastEvent,
  lead,
  onClose,
}: {
  job: number;
  run: number;
  hold: Schemas['HoldView'];
  lastEvent: number;
  lead: boolean;
  onClose: () => void;
}) {
  const client = useQueryClient();
  const [reason, setReason] = useState('');
  const [key] = useState(uuidv7);
  const refresh = async () => {
    for (const of of [keys.handover(job), keys.faults(job), keys.job(job)])
      await client.invalidateQueries({ queryKey: of });
  };
  const decide = useMutation({
    mutationFn: () =>
      given(
        api.POST('/api/runs/{id}/decisions', {
          params: { path: { id: run } },
          body: { key, on: hold.on ?? '', steps: [], reason, seen: lastEvent },
        }),
      ),
    // Something came meanwhile: what stands against release now is shown behind the sheet.
    onError: refresh,
    onSuccess: async () => {
      await refresh();
      onClose();
    },
  });
  return (
    <Sheet title={lead ? 'Let it pass' : 'Propose to let it pass'} onClose={onClose}>
      <form
        className="space-y-4"
        onSubmit={(e) => {
          e.preventDefault();
          decide.mutate();
        }}
      >
        <p className="font-bold">{hold.text}</p>
        <p>
          {lead
            ? 'It stays as it is, and does not stand against release any more. If it is seen again, it does.'
            : 'A lead sees your proposal here and on the handover page. Until then nothing changes.'}
        </p>
        <Field label="Why" hint="The pack prints these words with the lead’s name.">
          <TextArea value={reason} onChange={(e) => setReason(e.target.value)} required minLength={3} maxLength={400} />
        </Field>
        <ErrorNotice error={decide.error} />
        <div className="flex gap-3">
          <Button changes kind="main" type="submit" disabled={decide.isPending}>
            {lead ? 'Let it pass' : 'Propose it'}
          </Button>
          <Button onClick={onClose}>Back</Button>
        </div>
      </form>
    </Sheet>
  );
}
