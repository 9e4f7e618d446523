import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { Button, Field, Select } from '../../ui/Controls';
import { ErrorNotice, Loading, Notice } from '../../ui/Notice';
import { MarkShape } from '../../ui/Verdict';
import { useJob } from '../jobs/JobShell';
import { usePageKeys } from '../../ui/usePageKeys';
import { usePeople } from '../bench/usePeople';
import { BenchSheet } from './BenchSheet';
import { CheckCard } from './CheckCard';
import { Colleagues } from './Colleagues';
import { ExtrasSheet } from './ExtrasSheet';
import { KeysSheet } from './KeysSheet';
import { LivePanel } from './LivePanel';
import { StageHead } from './StageHead';
import { usePowerUp } from './usePowerUp';
import { after, markOf, markOfStage, schoolWords, standingAt, type Check, type Stage, type View } from './words';

/** The loom is powered up: stages along the side, one check as a card, the rest of its stage below. */
export function PowerUpPage() {
  const { job, at } = useJob();
  const power = usePowerUp(job.id);
  const [search, setSearch] = useSearchParams();
  const [sheet, setSheet] = useState<'bench' | 'extras' | 'keys' | null>(null);
  usePageKeys((e, inField) => {
    if (!inField && e.key === '?') setSheet('keys');
  });
  const standing = power.view.data?.begun
    ? standingAt(power.view.data.stages, power.view.data.current, search.get('check'))
    : undefined;
  const people = usePeople(job.id, power.view.data?.runId ?? null, standing ? { check: standing.id } : null);
  const controllers = power.view.data?.controllers ?? [];
  const [named, setNamed] = useState<string | null>(null);
  // Cautions that were read at an earlier card of the same stage are shown again, and need not be confirmed again.
  const [read, setRead] = useState<ReadonlySet<string>>(new Set());
  const controller =
    named ?? controllers.find((c) => c.name.toLowerCase().includes(job.loom?.toLowerCase() ?? '—'))?.name ?? null;
  if (!power.view.data)
    return power.view.isError ? <ErrorNotice error={power.view.error} /> : <Loading what="the power-up" />;
  const view = power.view.data;
  if (view.refused !== null || view.runId === null)
    return (
      <div className="p-6">
        <Notice tone="mind">{view.refused ?? 'This loom has not been on the bench.'}</Notice>
      </div>
    );
  // A stage without checks is stood at by its number: what is proposed or decided on it is said there.
  const empty = view.stages.find((s) => String(s.number) === search.get('stage') && s.checks.length === 0);
  const check = empty ? undefined : standingAt(view.stages, view.current, search.get('check'));
  const stage = empty ?? view.stages.find((s) => s.number === (check?.stage ?? view.current)) ?? view.stages[0];
  const go = (to: Check | undefined, of?: Stage) =>
    setSearch((now) => {
      now.delete('stage');
      if (to) now.set('check', to.id);
      else if (of) now.set('stage', String(of.number));
      return now;
    });
  const unsent = view.stages.flatMap((s) => s.checks).filter((c) => c.id !== check?.id && power.unsent.includes(c.id));
  const shown = stage?.checks.filter((c) => !at || c.at.some((p) => p.startsWith(`${at}:`))) ?? [];
  return (
    <div className="grid flex-1 items-start gap-4 p-4 lg:grid-cols-[17rem_1fr]">
      <div className="space-y-4">
        <Stages
          view={view}
          here={stage?.number}
          onGo={(s) => go(s.checks.find((c) => c.state !== 'passed') ?? s.checks[0], s)}
        />
        <div className="space-y-3 border-2 border-edge bg-card p-3">
          <p>
            <b>First power {schoolWords[view.school] ?? view.school}.</b>{' '}
            {view.devices.filter((d) => d.fitting.kind !== 'real').length === 0
              ? 'Everything is fitted.'
              : `${view.devices.filter((d) => d.fitting.kind !== 'real').length} devices are not, or have a stand-in.`}
          </p>
          <Button changes className="w-full" onClick={() => setSheet('bench')}>
            {view.begun ? 'Change what is fitted' : 'Say what is fitted'}
          </Button>
          <Field label="Controller that is asked">
            <Select value={controller ?? ''} onChange={(e) => setNamed(e.target.value)}>
              <option value="">none: everything by hand</option>
              {controllers.map((c) => (
                <option key={c.name}>{c.name}</option>
              ))}
            </Select>
          </Field>
          <Button className="w-full" onClick={() => setSheet('extras')}>
            Settings, codes, minimum to run
          </Button>
          <Button className="w-full max-sm:hidden" onClick={() => setSheet('keys')}>
            Keys <kbd>?</kbd>
          </Button>
        </div>
      </div>
      <div className="min-w-0 space-y-4">
        {view.findings.map((f) => (
          <Notice key={f} tone="wrong">
            {f}
          </Notice>
        ))}
        {!view.begun && (
          <Notice tone="mind">
            <p>
              Nothing is begun yet. Say first what is really fitted on this bench: what each check should show follows
              from it.{' '}
              <Button changes kind="main" onClick={() => setSheet('bench')}>
                Say what is fitted
              </Button>
            </p>
          </Notice>
        )}
        {unsent.length > 0 && (
          <Notice tone="wrong">
            Not stored:{' '}
            {unsent.map((c) => (
              <Button key={c.id} onClick={() => go(c)}>
                {c.do}
              </Button>
            ))}
          </Notice>
        )}
        <Colleagues view={view} people={people} onGo={go} />
        {stage && <StageHead stage={stage} power={power} />}
        {check && stage && view.begun && (
          <CheckCard
            key={check.id}
            job={job.id}
            run={view.runId}
            view={view}
            stage={stage}
            check={check}
            controller={controller || null}
            power={power}
            read={check.cautions.every((c) => read.has(`${check.stage} ${c}`))}
            onRead={() => setRead(new Set([...read, ...check.cautions.map((c) => `${check.stage} ${c}`)]))}
            onAnswer={() => search.get('check') !== check.id && go(check)}
            onNext={() => go(after(view.stages, check))}
          />
        )}
        {controller && stage && stage.number >= 5 && view.begun && (
          <LivePanel job={job.id} controller={controller} check={check} />
        )}
        {stage && (
          <ol aria-label={`Checks of stage ${stage.number}`} className="border-2 border-edge bg-card">
            {shown.map((c) => (
              <li key={c.id} className="border-b border-line last:border-0">
                <button
                  type="button"
                  aria-current={c.id === check?.id}
                  onClick={() => go(c)}
                  className={`grid min-h-11 w-full cursor-pointer grid-cols-[1.5rem_1fr] items-center gap-3 px-3 py-1 text-left sm:grid-cols-[1.5rem_1fr_auto] ${c.id === check?.id ? 'bg-well' : ''}`}
                >
                  <MarkShape mark={markOf(c.state)} />
                  <span>{c.do}</span>
                  <span className="text-soft max-sm:col-start-2">{c.answer ? c.answer.said : c.expect.words}</span>
                </button>
              </li>
            ))}
            {shown.length === 0 && (
              <li className="p-4 text-soft">{stage.cannotDo ?? `Nothing of this stage is at ${at ?? ''}.`}</li>
            )}
          </ol>
        )}
      </div>
      {sheet === 'bench' && <BenchSheet view={view} power={power} onClose={() => setSheet(null)} />}
      {sheet === 'keys' && <KeysSheet onClose={() => setSheet(null)} />}
      {sheet === 'extras' && (
        <ExtrasSheet job={job.id} controller={controller || null} onClose={() => setSheet(null)} />
      )}
    </div>
  );
}

function Stages({ view, here, onGo }: { view: View; here: number | undefined; onGo: (stage: Stage) => void }) {
  return (
    <nav aria-label="Stages">
      <ol className="border-2 border-edge bg-card">
        {view.stages.map((s) => (
          <li key={s.number} className="border-b border-line last:border-0">
            <button
              type="button"
              aria-current={s.number === here ? 'step' : undefined}
              onClick={() => onGo(s)}
              className={`grid min-h-12 w-full cursor-pointer grid-cols-[1.5rem_1.5rem_1fr] items-center gap-2 px-3 py-1 text-left ${s.number === here ? 'border-l-8 border-copper bg-well' : 'border-l-8 border-transparent'}`}
            >
              <MarkShape mark={markOfStage(s)} />
              <b className="font-mono">{s.number}</b>
              <span className={s.state === 'locked' ? 'text-soft' : ''}>
                {s.name}
                <span className="block text-sm text-soft">
                  {s.state === 'locked' && view.begun
                    ? 'locked'
                    : s.state === 'waived'
                      ? 'let pass'
                      : s.checks.length === 0
                        ? 'nothing here'
                        : `${s.passed} of ${s.checks.length}`}
                  {s.failed > 0 && `, ${s.failed} failed`}
                  {s.failedBefore.length > 0 && ', failed before'}
                  {s.required && ', asked for'}
                </span>
              </span>
            </button>
          </li>
        ))}
      </ol>
    </nav>
  );
}
