import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { Button } from '../../ui/Controls';
import { ErrorNotice } from '../../ui/Notice';
import type { TabName } from './Editor';
import type { Keeping } from './draftReducer';
import type { DraftInHand } from './useDraft';

const tabs: [TabName, string][] = [
  ['wires', 'Wires'],
  ['connectors', 'Connectors'],
  ['splices', 'Splices'],
  ['branches', 'Branches'],
  ['landmarks', 'Landmarks'],
  ['devices', 'Devices'],
  ['box', 'Box'],
  ['fitting', 'Fitting'],
  ['codeReadings', 'Codes'],
  ['families', 'Families'],
  ['loom', 'Loom'],
];

const words: Record<Keeping, string> = {
  saved: 'Saved',
  saving: 'Saving …',
  waiting: 'The server does not answer. Kept here, sent again by itself.',
  overtaken: 'Somebody else changed this draft',
  closed: 'This draft was released or put away by somebody else',
};

/** Which table, whether it is saved, and where the draft goes next. */
export function DraftBar({
  draft,
  known,
  hand,
  tab,
  onTab,
  notice,
}: {
  draft: Schemas['DraftView'];
  /** The newest revision that this person has looked at; 0 for none. */
  known: number;
  hand: DraftInHand;
  tab: TabName;
  onTab: (tab: TabName) => void;
  notice: string;
}) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const done = async (to: string) => {
    await client.invalidateQueries({ queryKey: keys.job(draft.jobId) });
    await client.invalidateQueries({ queryKey: keys.jobs });
    await client.invalidateQueries({ queryKey: keys.bench(draft.jobId) });
    await navigate(`/jobs/${draft.jobId}/${to}`);
  };
  const release = useMutation({
    mutationFn: () =>
      given(
        api.POST('/api/drafts/{id}/release', {
          params: { path: { id: draft.id }, query: { after: known } },
          headers: { 'If-Match': `"${hand.version}"` },
        }),
      ),
    onSuccess: () => done('revisions'),
    // What came in meanwhile is shown, also when word of it has been lost.
    onError: () => client.invalidateQueries({ queryKey: keys.job(draft.jobId) }),
  });
  const putAway = useMutation({
    mutationFn: () => given(api.DELETE('/api/drafts/{id}', { params: { path: { id: draft.id } } })),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.draft(draft.jobId) }),
  });
  return (
    <div className="border-b border-line">
      <div className="flex flex-wrap items-center gap-x-1 gap-y-1 px-3 py-1">
        <div role="group" aria-label="Tables of the draft" className="flex flex-wrap">
          {tabs.map(([name, label]) => (
            <button
              key={name}
              type="button"
              aria-pressed={tab === name}
              onClick={() => onTab(name)}
              className={`min-h-11 cursor-pointer border-b-4 px-2.5 font-bold ${tab === name ? 'border-copper' : 'border-transparent text-soft hover:text-ink'}`}
            >
              {label}
            </button>
          ))}
        </div>
        <span className="ml-auto flex items-center gap-2">
          <span
            role="status"
            data-testid="keeping"
            className={`max-w-80 text-sm ${hand.keeping === 'saved' ? 'text-pass' : hand.keeping === 'saving' ? 'text-soft' : 'font-bold text-fail'}`}
          >
            {words[hand.keeping]}
          </span>
          <Button onClick={hand.undo} disabled={hand.past.length === 0} title="Ctrl and Z">
            Undo
          </Button>
          <Button onClick={hand.redo} disabled={hand.future.length === 0} title="Ctrl, Shift and Z">
            Redo
          </Button>
          <Button onClick={() => putAway.mutate()} disabled={hand.keeping !== 'saved'}>
            Put away
          </Button>
          <Button
            kind="main"
            onClick={() => release.mutate()}
            disabled={hand.keeping !== 'saved' || hand.problems.length > 0 || release.isPending}
            title={
              hand.problems.length > 0
                ? 'A loom with problems cannot be released'
                : 'Makes this the job’s newest revision'
            }
          >
            Release
          </Button>
        </span>
      </div>
      <p role="status" className="min-h-0 px-4 text-sm text-soft">
        {notice}
      </p>
      {(release.error ?? putAway.error) && (
        <div className="p-3">
          <ErrorNotice error={release.error ?? putAway.error} />
        </div>
      )}
    </div>
  );
}
