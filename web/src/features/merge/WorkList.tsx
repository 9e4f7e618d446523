import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { uuidv7 } from '../../api/uuid';
import { Button } from '../../ui/Controls';
import { Keeping } from '../../ui/Keeping';
import { ErrorNotice, Notice } from '../../ui/Notice';
import { Tick } from '../../ui/Tick';

type View = Schemas['MergeView'];

const kinds: Record<string, string> = {
  'move-contact': 'move',
  splice: 'splice',
  'add-wire': 'add',
  insulate: 'insulate',
  'remove-wire': 'take out',
  'plug-cavity': 'plug',
  'add-relay': 'relay',
};

/** Makes the new loom, and lists what hands must do, to be ticked off by whoever did it. */
export function WorkList({ view, onStored }: { view: View; onStored: (view: View) => void }) {
  const client = useQueryClient();
  const [openOnly, setOpenOnly] = useState(false);
  const make = useMutation({
    mutationFn: () => given(api.POST('/api/merges/{id}/make', { params: { path: { id: view.id } } })),
    onSuccess: async (now) => {
      onStored(now);
      await client.invalidateQueries({ queryKey: keys.draft(view.jobId) });
    },
  });
  const tick = useMutation({
    mutationFn: ({ item, done }: { item: string; done: boolean }) =>
      given(
        api.POST('/api/merges/{id}/ticks', { params: { path: { id: view.id } }, body: { key: uuidv7(), item, done } }),
      ),
    scope: { id: `ticks ${view.id}` },
    onMutate: ({ item, done }) =>
      onStored({ ...view, work: view.work.map((w) => (w.key === item ? { ...w, done } : w)) }),
    onSuccess: onStored,
    onError: () => client.invalidateQueries({ queryKey: keys.merge(view.id) }),
  });
  const open = view.progress.likeOpen + view.progress.lonelyOpen;
  return (
    <div className="space-y-4">
      {open > 0 && view.work.length === 0 && (
        <Notice tone="mind">
          {open} lines are still open. They are treated as left out, and the work list says so of each.
        </Notice>
      )}
      <ErrorNotice error={make.error ?? tick.error} />
      <div className="flex flex-wrap items-center gap-4">
        <Button
          changes
          kind={view.work.length === 0 ? 'main' : 'plain'}
          onClick={() => make.mutate()}
          disabled={make.isPending || view.decisions.pairs.length === 0}
        >
          {view.work.length === 0 ? 'Make the loom as a draft' : 'Make it anew'}
        </Button>
        {view.draftId && (
          <Link className="underline" to={`/jobs/${view.jobId}/draft`}>
            Open the draft of job {view.jobId}
          </Link>
        )}
        {view.work.length > 0 && <Keeping pending={tick.isPending} failed={tick.isError} />}
        <label className="ml-auto flex min-h-11 items-center gap-2">
          <Tick checked={openOnly} onChange={setOpenOnly} />
          only what is not done
        </label>
      </div>
      <div className="grid gap-5 lg:grid-cols-2">
        {(['like-to-like', 'added'] as const).map((half) => {
          const items = view.work.filter((w) => w.half === half);
          const done = items.filter((w) => w.done).length;
          return (
            <section
              key={half}
              aria-label={half === 'like-to-like' ? 'Like to like' : 'To be added'}
              className="min-w-0"
            >
              <h2 className="mb-1 text-xl font-bold">
                {half === 'like-to-like' ? 'Like to like' : 'Then: add, insulate, plug'}{' '}
                <span className="font-normal text-soft">
                  {done} of {items.length}
                </span>
              </h2>
              <ul className="max-h-[30rem] overflow-y-auto border-2 border-edge bg-card">
                {items
                  .filter((w) => !openOnly || !w.done)
                  .map((w) => (
                    <li key={w.key} className="border-b border-line">
                      <label className="grid min-h-11 cursor-pointer grid-cols-[auto_5rem_1fr] items-center gap-3 px-3 py-1">
                        <Tick checked={w.done} onChange={(done) => tick.mutate({ item: w.key, done })} />
                        <span className="font-mono text-sm text-soft">{kinds[w.kind] ?? w.kind}</span>
                        <span className={w.done ? 'text-soft line-through' : ''}>
                          {w.text}
                          {w.by && <span className="block text-sm text-soft no-underline">{w.by}</span>}
                        </span>
                      </label>
                    </li>
                  ))}
              </ul>
            </section>
          );
        })}
      </div>
    </div>
  );
}
