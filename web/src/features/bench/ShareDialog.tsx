import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, given, Refused, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { Button } from '../../ui/Controls';
import { ErrorNotice } from '../../ui/Notice';
import { Sheet } from '../../ui/Sheet';
import { Tick } from '../../ui/Tick';

/** Sharing the plan out: each takes the connectors next to them, and does the steps there. */
export function ShareDialog({
  run,
  loom,
  people,
  onClose,
}: {
  run: Schemas['RunView'];
  loom: Schemas['LoomView'];
  people: readonly Schemas['OnRunView'][];
  onClose: () => void;
}) {
  const client = useQueryClient();
  const [mine, setMine] = useState(() => new Set(people.find((p) => p.isMe)?.takes));
  const holder = new Map(people.filter((p) => !p.isMe).flatMap((p) => p.takes.map((c) => [c, p.name] as const)));
  const share = useMutation({
    mutationFn: (ask: { connectors: string[]; over: boolean }) =>
      given(api.PUT('/api/runs/{id}/share', { params: { path: { id: run.id } }, body: ask })),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: keys.onRun(run.jobId, run.id) });
      onClose();
    },
  });
  const taken = share.error instanceof Refused && share.error.type === 'urn:wise-loom:taken';
  return (
    <Sheet title="Share the plan" onClose={onClose}>
      <p className="mb-3">
        Tick the connectors next to you: their steps are yours, and leave the way of the others. A step between your
        connector and somebody else’s is done by one of you. What nobody took is for everybody.
      </p>
      <ul className="max-h-[45vh] overflow-y-auto sm:columns-2">
        {loom.connectors.map((c) => (
          <li key={c.ref}>
            <label className="flex min-h-11 cursor-pointer items-center gap-3">
              <Tick
                checked={mine.has(c.ref)}
                onChange={(on) => {
                  const next = new Set(mine);
                  if (on) next.add(c.ref);
                  else next.delete(c.ref);
                  setMine(next);
                }}
              />
              <span className="min-w-0 truncate">
                <b>{c.ref}</b> {c.title}
                {holder.has(c.ref) && <span className="text-copper"> · {holder.get(c.ref)}</span>}
              </span>
            </label>
          </li>
        ))}
      </ul>
      <ErrorNotice error={share.error} />
      <div className="mt-4 flex flex-wrap gap-3">
        {taken ? (
          <Button kind="main" changes onClick={() => share.mutate({ connectors: [...mine], over: true })}>
            Take them over
          </Button>
        ) : (
          <Button
            kind="main"
            changes
            disabled={share.isPending}
            onClick={() => share.mutate({ connectors: [...mine], over: false })}
          >
            {mine.size === 0 ? 'Share nothing' : `Take ${mine.size} connectors`}
          </Button>
        )}
        <Button onClick={onClose}>Back to the bench</Button>
      </div>
    </Sheet>
  );
}
