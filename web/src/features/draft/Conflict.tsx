import { useQuery } from '@tanstack/react-query';
import type { Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { Button } from '../../ui/Controls';
import { ErrorNotice, Loading } from '../../ui/Notice';
import { Sheet } from '../../ui/Sheet';
import type { LoomFile } from './document';
import type { DraftInHand } from './useDraft';
import { Scroll } from '../../ui/Scroll';

/** Somebody else stored a change first: both sides are shown, and nothing is lost until a person has chosen. */
export function Conflict({ hand }: { hand: DraftInHand }) {
  const overtaken = hand.keeping === 'overtaken';
  const both = useQuery({
    queryKey: keys.reconcile(hand.version),
    queryFn: hand.reconcile,
    enabled: overtaken,
    gcTime: 0,
    staleTime: 0,
  });
  if (!overtaken) return null;
  return (
    <Sheet title="Somebody else changed this draft" onClose={() => undefined}>
      {both.isPending && <Loading what="both changes" />}
      <ErrorNotice error={both.error} />
      {both.data && <Choice both={both.data} hand={hand} />}
    </Sheet>
  );
}

function Choice({ both, hand }: { both: Schemas['ReconcileView']; hand: DraftInHand }) {
  const now = both.now as LoomFile;
  const take = (file: unknown) => hand.settle(file as LoomFile, now, both.version);
  return (
    <div className="space-y-4">
      <Changes title={`What ${both.changedBy} changed`} changes={both.theirs} />
      <Changes title="What you changed and is not stored yet" changes={both.mine} />
      {both.clashes.length > 0 && (
        <section>
          <h3 className="font-bold text-fail">Both changed the same</h3>
          <ul className="list-disc pl-6">
            {both.clashes.map((c) => (
              <li key={c.place}>
                {c.place}: yours <code className="font-mono">{c.mine}</code>, theirs{' '}
                <code className="font-mono">{c.theirs}</code>
              </li>
            ))}
          </ul>
        </section>
      )}
      <div className="flex flex-wrap gap-3">
        <Button kind="main" onClick={() => take(both.together)}>
          {both.clashes.length > 0 ? 'Keep both; mine where both changed the same' : 'Keep both'}
        </Button>
        <Button onClick={() => take(both.now)}>Take theirs, drop mine</Button>
        <Button onClick={() => take(hand.file)}>Keep mine, undo theirs</Button>
      </div>
      <p className="text-sm text-soft">Whatever you choose can be undone with Ctrl and Z.</p>
    </div>
  );
}

function Changes({ title, changes }: { title: string; changes: readonly Schemas['LoomChange'][] }) {
  return (
    <section>
      <h3 className="font-bold">{title}</h3>
      {changes.length === 0 ? (
        <p className="text-soft">Nothing.</p>
      ) : (
        <Scroll label={title} className="max-h-40">
          <ul className="list-disc pl-6">
            {changes.slice(0, 200).map((c, i) => (
              <li key={i}>{c.sentence}</li>
            ))}
          </ul>
        </Scroll>
      )}
    </section>
  );
}
