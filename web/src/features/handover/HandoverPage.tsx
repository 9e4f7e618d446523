import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState, type SubmitEvent } from 'react';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { Button, Field, TextArea } from '../../ui/Controls';
import { ErrorNotice, Loading, Notice } from '../../ui/Notice';
import { Holds } from '../faults/Holds';
import { useJob } from '../jobs/JobShell';
import { Scroll } from '../../ui/Scroll';
import { LabelPanel } from './LabelPanel';
import { PackedBox } from './PackedBox';
import { ReviewPanel } from './ReviewPanel';

/** What stands against release, signing, and the packs that went out. */
export function HandoverPage() {
  const { job } = useJob();
  const handover = useQuery({
    queryKey: keys.handover(job.id),
    queryFn: () => given(api.GET('/api/jobs/{id}/handover', { params: { path: { id: job.id } } })),
  });
  if (!handover.data)
    return handover.isError ? <ErrorNotice error={handover.error} /> : <Loading what="the handover" />;
  const { holds, notProven, packs, pdfNote, maySign, contradictions, guide, packing } = handover.data;
  return (
    <div className="grid flex-1 items-start gap-6 p-5 lg:grid-cols-2">
      <div className="space-y-5">
        <Holds job={job} holds={holds} run={handover.data.runId} lastEvent={handover.data.lastEvent} />
        {notProven.length > 0 && (
          <section aria-labelledby="open">
            <h2 id="open" className="mb-1 text-lg font-bold">
              The pack will say that this was not tested
            </h2>
            <Scroll label="What is not proven" className="max-h-72">
              <ul className="list-disc space-y-1 pl-6">
                {notProven.map((line) => (
                  <li key={line}>{line}</li>
                ))}
              </ul>
            </Scroll>
          </section>
        )}
        {contradictions.length > 0 && (
          <Notice tone="wrong">
            <p className="font-bold">The loom file says what its drawing contradicts:</p>
            <ul className="list-disc pl-6">
              {contradictions.map((c) => (
                <li key={c}>{c}</li>
              ))}
            </ul>
          </Notice>
        )}
        {guide && guide.causes > 0 && (
          <p className="text-soft">
            The guide in the pack was played against {guide.causes} causes: it named {Math.round(100 * guide.named)} %
            after {guide.meanChecks.toFixed(1)} checks in the mean.
          </p>
        )}
        {pdfNote && <Notice tone="mind">{pdfNote}</Notice>}
        <PackedBox job={job.id} photos={packing} />
        <Sign job={job} handover={handover.data} />
      </div>
      <section aria-labelledby="packs" className="space-y-3">
        <h2 id="packs" className="text-2xl font-bold">
          Packs
        </h2>
        {packs.length === 0 && (
          <p className="border-2 border-dashed border-edge p-6 text-soft">
            No pack yet. The lead signs when nothing stands against release.
          </p>
        )}
        {packs.map((p) => (
          <Pack key={p.id} job={job} pack={p} mayShare={maySign} />
        ))}
        <ReviewPanel job={job.id} mayOpen={maySign} />
        <LabelPanel job={job.id} />
      </section>
    </div>
  );
}

function Sign({ job, handover }: { job: Schemas['JobView']; handover: Schemas['HandoverView'] }) {
  const client = useQueryClient();
  const [changes, setChanges] = useState('');
  const [looked, setLooked] = useState(false);
  const sign = useMutation({
    mutationFn: () =>
      given(
        api.POST('/api/jobs/{id}/packs', {
          params: { path: { id: job.id } },
          body: { changes, seen: handover.lastEvent },
        }),
      ),
    // Too late or not allowed: what stands against it now is shown beside the words.
    onError: () => client.invalidateQueries({ queryKey: keys.handover(job.id) }),
    onSuccess: async () => {
      setChanges('');
      setLooked(false);
      for (const of of [keys.handover(job.id), keys.job(job.id)]) await client.invalidateQueries({ queryKey: of });
      await client.invalidateQueries({ queryKey: keys.jobs });
    },
  });
  if (!handover.maySign) return <p className="text-soft">A lead signs the pack.</p>;
  if (!handover.ready) return <ErrorNotice error={sign.error} />;
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    sign.mutate();
  };
  return (
    <form onSubmit={submit} className="space-y-4 border-2 border-copper bg-card p-5">
      <h2 className="text-xl font-bold">Sign and freeze pack {(handover.packs[0]?.version ?? 0) + 1}</h2>
      {handover.packs.length > 0 && (
        <Field label="What changed since the last pack">
          <TextArea value={changes} onChange={(e) => setChanges(e.target.value)} maxLength={1000} required />
        </Field>
      )}
      <label className="flex cursor-pointer gap-3">
        <input
          type="checkbox"
          className="mt-1 size-5 accent-copper"
          checked={looked}
          onChange={(e) => setLooked(e.target.checked)}
          required
        />
        <span>
          I have looked at the test record, the faults and what was not tested. My name goes on the front page.
        </span>
      </label>
      <ErrorNotice error={sign.error} />
      <Button changes kind="main" type="submit" disabled={sign.isPending || !looked}>
        {sign.isPending ? 'Laying out and printing …' : 'Sign the pack'}
      </Button>
    </form>
  );
}

const forms = [
  ['html', 'HTML'],
  ['pdf', 'PDF'],
  ['pdf?paper=letter', 'PDF on Letter'],
  ['json', 'JSON'],
  ['csv', 'CSV'],
] as const;

function Pack({ job, pack, mayShare }: { job: Schemas['JobView']; pack: Schemas['PackView']; mayShare: boolean }) {
  const client = useQueryClient();
  const [copied, setCopied] = useState(false);
  const done = () => client.invalidateQueries({ queryKey: keys.handover(job.id) });
  const share = useMutation({
    mutationFn: () => given(api.POST('/api/packs/{id}/share', { params: { path: { id: pack.id } } })),
    onSuccess: done,
  });
  const withdraw = useMutation({
    mutationFn: () => given(api.DELETE('/api/packs/{id}/share', { params: { path: { id: pack.id } } })),
    onSuccess: done,
  });
  const renew = useMutation({
    mutationFn: () => given(api.POST('/api/packs/{id}/share/renew', { params: { path: { id: pack.id } } })),
    onSuccess: done,
  });
  // The link is told once: only its hash is kept.
  const link = share.data?.share && pack.sharedUntil ? new URL(share.data.share, location.origin).href : null;
  return (
    <article className="space-y-3 border-2 border-edge bg-card p-4">
      <div className="flex flex-wrap items-baseline justify-between gap-2">
        <h3 className="text-xl font-bold">Pack {pack.version}</h3>
        <span className="text-soft">
          signed by {pack.signedBy},{' '}
          {new Date(pack.signedAt).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' })}
        </span>
      </div>
      {pack.against && (
        <Notice tone="wrong">
          <b>This pack no longer holds.</b> {pack.against}
        </Notice>
      )}
      {pack.changes && <p>{pack.changes}</p>}
      <p className="break-all text-sm text-soft">SHA-256 of the HTML as signed: {pack.hash}</p>
      <p className="flex flex-wrap gap-5">
        {forms
          .filter(([form]) => !form.startsWith('pdf') || pack.hasPdf)
          .map(([form, title]) => (
            <a
              key={form}
              className="min-h-6 font-bold underline"
              href={`/api/packs/${pack.id}/${form}`}
              target="_blank"
              rel="noreferrer"
            >
              {title}
            </a>
          ))}
      </p>
      {link && (
        <div className="space-y-2">
          <p>
            Anyone with this link reads the pack, without an account. Copy it now: it is not shown again.{' '}
            <a className="font-mono break-all underline" href={link} target="_blank" rel="noreferrer">
              {link}
            </a>
          </p>
          <Button onClick={() => void navigator.clipboard.writeText(link).then(() => setCopied(true))}>
            {copied ? 'Copied' : 'Copy the link'}
          </Button>
        </div>
      )}
      {pack.sharedUntil && <p>A link to this pack is out. It ends on {pack.sharedUntil.slice(0, 10)}.</p>}
      {mayShare && (
        <div className="flex flex-wrap gap-3">
          {pack.sharedUntil && (
            <>
              <Button changes onClick={() => withdraw.mutate()} disabled={withdraw.isPending}>
                Withdraw the link
              </Button>
              <Button changes onClick={() => renew.mutate()} disabled={renew.isPending}>
                Renew it
              </Button>
            </>
          )}
          <Button
            changes
            onClick={() => {
              setCopied(false);
              share.mutate();
            }}
            disabled={share.isPending}
          >
            {pack.sharedUntil ? 'Make another link instead' : 'Make a share link'}
          </Button>
        </div>
      )}
      <ErrorNotice error={share.error ?? withdraw.error ?? renew.error} />
    </article>
  );
}
