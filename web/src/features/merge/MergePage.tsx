import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { api, given, Refused, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { Keeping } from '../../ui/Keeping';
import { ErrorNotice, Loading } from '../../ui/Notice';
import { Overtaken } from '../../ui/Overtaken';
import { ShopFrame } from '../../ui/ShopFrame';
import { LikeToLike } from './LikeToLike';
import { Rest } from './Rest';
import { WorkList } from './WorkList';

type View = Schemas['MergeView'];
export type Decisions = Schemas['DecisionsView'];

const stages = ['Like to like', 'What is left', 'The loom and its work'] as const;

/** A merge: first what both sides have, then a decision for all that only one has, then the new loom and what hands must do. */
export function MergePage() {
  const id = Number(useParams().id);
  const merge = useQuery({
    queryKey: keys.merge(id),
    queryFn: () => given(api.GET('/api/merges/{id}', { params: { path: { id } } })),
  });
  return (
    <ShopFrame
      title={merge.data?.title ?? 'Merge'}
      note={merge.data && `${merge.data.leftTitle} with ${merge.data.rightTitle}`}
    >
      <ErrorNotice error={merge.error} />
      {merge.isPending && <Loading what="the merge" />}
      {merge.data && <Steps view={merge.data} />}
    </ShopFrame>
  );
}

function Steps({ view }: { view: View }) {
  const client = useQueryClient();
  const [stage, setStage] = useState(view.work.length > 0 ? 2 : 0);
  const key = keys.merge(view.id);
  const store = (now: View) => client.setQueryData(key, now);
  const decide = useMutation({
    mutationFn: (body: Decisions) =>
      given(
        api.PUT('/api/merges/{id}/decisions', {
          params: { path: { id: view.id } },
          headers: { 'If-Match': `"${client.getQueryData<View>(key)?.version ?? view.version}"` },
          body,
        }),
      ),
    // Drawn at once, so that a key pressed at the next line means the next line; sent one after the other.
    scope: { id: `merge ${view.id}` },
    mutationKey: key,
    onMutate: (decisions) => client.setQueryData<View>(key, (now) => now && { ...now, decisions }),
    onSuccess: (now) =>
      client.setQueryData<View>(key, (shown) =>
        shown && client.isMutating({ mutationKey: key }) > 1 ? { ...now, decisions: shown.decisions } : now,
      ),
    onError: () => client.invalidateQueries({ queryKey: key }),
  });
  const overtaken = decide.error instanceof Refused && decide.error.status === 412;
  const { progress } = view;
  const counts = [
    `${progress.likeDone} joined, ${progress.likeOpen} open`,
    `${progress.lonelyDone} decided, ${progress.lonelyOpen} open`,
    view.work.length > 0 ? `${view.work.filter((w) => w.done).length} of ${view.work.length} done` : 'not made yet',
  ];
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-4 p-5">
      <div role="group" aria-label="Stages of the merge" className="grid gap-3 sm:grid-cols-3">
        {stages.map((name, i) => (
          <button
            key={name}
            type="button"
            aria-pressed={stage === i}
            onClick={() => setStage(i)}
            className={`min-h-14 cursor-pointer border-2 px-4 py-2 text-left ${stage === i ? 'border-copper bg-card' : 'border-edge'}`}
          >
            <b className="block text-lg">
              {i + 1}. {name}
            </b>
            <span className="text-soft">{counts[i]}</span>
            {i < 2 && (
              <Bar
                done={i === 0 ? progress.likeDone : progress.lonelyDone}
                open={i === 0 ? progress.likeOpen : progress.lonelyOpen}
              />
            )}
          </button>
        ))}
      </div>
      {overtaken && decide.variables ? (
        <BothSides theirs={view.decisions} mine={decide.variables} onStore={decide.mutate} onDrop={decide.reset} />
      ) : (
        <ErrorNotice error={decide.error} />
      )}
      {stage === 0 && <LikeToLike view={view} onDecide={(d) => decide.mutate(d)} />}
      {stage === 1 && <Rest view={view} onDecide={(d) => decide.mutate(d)} />}
      {stage === 2 && <WorkList view={view} onStored={store} />}
      <p className="flex gap-5">
        <Link className="underline" to="/merges">
          All merges
        </Link>
        <Keeping pending={decide.isPending} failed={decide.isError} />
      </p>
    </div>
  );
}

/** Somebody else decided first: what would be undone by either choice. The view shows theirs by now. */
function BothSides({
  theirs,
  mine,
  onStore,
  onDrop,
}: {
  theirs: Decisions;
  mine: Decisions;
  onStore: (mine: Decisions) => void;
  onDrop: () => void;
}) {
  const words = (d: Decisions) => [
    ...d.pairs.map((p) => `${p.left} joined with ${p.right}`),
    ...d.apart.map((p) => `${p.left} kept apart from ${p.right}`),
    ...[...d.left, ...d.right].map((l) => `${l.place}: ${l.decision.replaceAll('-', ' ')}`),
  ];
  const [they, me] = [new Set(words(theirs)), new Set(words(mine))];
  const only = (a: Set<string>, b: Set<string>) => [...a].filter((w) => !b.has(w)).join('; ') || 'nothing';
  return (
    <Overtaken
      said="Somebody else decided something in this merge in the meantime."
      differs={[`Only theirs: ${only(they, me)}.`, `Only yours, not stored yet: ${only(me, they)}.`]}
      onStore={() => onStore(mine)}
      onTake={onDrop}
    />
  );
}

function Bar({ done, open }: { done: number; open: number }) {
  const all = Math.max(1, done + open);
  return (
    <span className="mt-1 block h-2 border border-edge bg-well">
      <span className="block h-full bg-copper" style={{ width: `${(100 * done) / all}%` }} />
    </span>
  );
}
