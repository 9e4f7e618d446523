import { useEffect, useRef, useState } from 'react';
import type { Schemas } from '../../api/client';
import { Key } from '../../ui/Controls';
import { ErrorNotice, Notice } from '../../ui/Notice';
import { readTyped } from '../../ui/readings';
import { useMayChange } from '../../ui/mayChange';
import { usePageKeys } from '../../ui/usePageKeys';
import type { Side } from '../../ui/Face';
import { useJob } from '../jobs/JobShell';
import { KeysDialog } from './KeysDialog';
import { LogFaultDialog } from './LogFaultDialog';
import { useOutbox } from './Outbox';
import { ProgressBar } from './ProgressBar';
import { ReadingRow } from './ReadingRow';
import { Reason } from './Reason';
import { Ruler } from './Ruler';
import { SkipDialog } from './SkipDialog';
import { say, sound } from './sound';
import { StepList } from './StepList';
import { TouchCard } from './TouchCard';
import { useBenchRun } from './useBenchRun';

type Dialog = 'keys' | 'skip' | 'fault' | 'reason' | null;

/** One run: the card of the step one stands at, its reading and verdict, and what comes next. All of it by keyboard. */
export function BenchRun({
  job,
  loom,
  run: stored,
  loadCautions,
}: {
  job: Schemas['JobView'];
  loom: Schemas['LoomView'];
  run: Schemas['RunView'];
  /** What stands before each step under load. */
  loadCautions: readonly string[];
}) {
  const { at, point } = useJob();
  const outbox = useOutbox();
  const { run, step, judged, measure, take, goTo, goOn, nextRetest, unsaved } = useBenchRun(job, stored);
  const [side, setSide] = useState<Side>('wire');
  const [dialog, setDialog] = useState<Dialog>(null);
  const [loud, setLoud] = useState(false);
  const [typed, setTyped] = useState('');
  const input = useRef<HTMLInputElement>(null);
  const mayChange = useMayChange();

  const { black, red } = step ?? {};
  useEffect(() => {
    point([black, red].map((p) => p?.split(':')[0] ?? ''));
    return () => point([]);
  }, [point, black, red]);
  useEffect(() => {
    if (loud && judged) sound(judged.verdict);
  }, [judged, loud]);
  useEffect(() => {
    if (loud && step) say(step);
    // Said once for each step, not again for each of its readings.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [loud, step?.number]);

  const takeTyped = () => {
    const value = step && readTyped(typed, step.unit);
    if (value === undefined || !mayChange) return;
    setTyped('');
    void take(value, false, run.lastEvent);
  };
  const enter = () => {
    if (typed) takeTyped();
    else if (step?.standing.last && step.standing.state !== 'retest') goOn();
  };
  const press = {
    ' ': () => {
      if (step?.remote && !measure.isPending && mayChange) measure.mutate();
    },
    Enter: enter,
    f: () => {
      if (step?.standing.state === 'fail' && mayChange) setDialog('fault');
    },
    r: nextRetest,
    t: () => setSide(side === 'wire' ? 'mating' : 'wire'),
    s: () => {
      if (mayChange) setDialog('skip');
    },
    y: () => setDialog('reason'),
    v: () => setLoud(!loud),
    '?': () => setDialog('keys'),
    ArrowRight: () => {
      if (step && step.number < run.steps.length) goTo(step.number + 1);
    },
    ArrowLeft: () => {
      if (step && step.number > 1) goTo(step.number - 1);
    },
  } satisfies Record<string, () => void>;
  usePageKeys((event, inField) => {
    if (inField && event.target !== input.current) return;
    const onButton = event.target instanceof HTMLElement && event.target.closest('button,a');
    if (onButton && (event.key === ' ' || event.key === 'Enter')) return;
    if (/^[\d.,]$/.test(event.key) && !inField) {
      input.current?.focus();
      return;
    }
    const name = event.key.length === 1 ? event.key.toLowerCase() : event.key;
    const busy = inField && event.key !== 'Enter' && typed !== '';
    const action = busy || !(name in press) ? undefined : press[name as keyof typeof press];
    if (!action) return;
    event.preventDefault();
    action();
  });

  if (!step) return null;
  const waiting = unsaved.some((w) => w.reading.step === step.number);
  return (
    <div className="flex min-h-0 flex-1">
      <div className="flex min-w-0 flex-1 flex-col gap-2 overflow-y-auto p-2 xl:gap-3 xl:p-3">
        <ProgressBar run={run} step={step}>
          <Tool name="Turn" hint="Turn faces" k="T" onClick={press.t} />
          <Tool name="Why" hint="Why these limits" k="Y" onClick={press.y} />
          <Tool name="Skip" hint="Skip this step" k="S" onClick={press.s} />
          <Tool name="Voice" hint="Voice and tones" k="V" pressed={loud} onClick={press.v} />
          <Tool name="Keys" hint="Keys of this page" k="?" onClick={press['?']} />
        </ProgressBar>
        {outbox.waiting.length > 0 && outbox.trouble && (
          <Notice tone="mind">
            <b>
              {outbox.waiting.length} {outbox.waiting.length === 1 ? 'reading waits' : 'readings wait'} here.
            </b>{' '}
            {outbox.trouble} What waits is kept on this machine and sent by itself; go on measuring.
          </Notice>
        )}
        {step.standing.late && <Notice tone="mind">{step.standing.late}</Notice>}
        <TouchCard step={step} loom={loom} side={side} cautions={loadCautions} />
        <Ruler
          step={step}
          value={step.standing.state === 'retest' ? undefined : step.standing.last?.value}
          verdict={step.standing.state === 'retest' ? undefined : step.standing.last?.verdict}
        />
        <ReadingRow
          step={step}
          before={judged?.step === step.number ? null : judged}
          saved={!waiting}
          measuring={measure.isPending}
          typed={typed}
          input={input}
          onType={setTyped}
          onTake={takeTyped}
          onMeasure={() => measure.mutate()}
          onGoOn={goOn}
          onFault={() => setDialog('fault')}
        />
        <ErrorNotice error={measure.error} />
      </div>
      <StepList steps={run.steps} at={at} here={step.number} onGoTo={goTo} />
      {dialog === 'keys' && <KeysDialog onClose={() => setDialog(null)} />}
      {dialog === 'reason' && <Reason run={run} step={step} onClose={() => setDialog(null)} />}
      {dialog === 'skip' && (
        <SkipDialog
          run={run}
          jobId={job.id}
          step={step}
          onClose={(skipped) => {
            setDialog(null);
            if (skipped) goOn();
          }}
        />
      )}
      {dialog === 'fault' && <LogFaultDialog run={run} job={job} step={step} onClose={() => setDialog(null)} />}
    </div>
  );
}

/** A small tool of the card with its key. */
function Tool({
  name,
  hint,
  k,
  pressed,
  onClick,
}: {
  name: string;
  hint: string;
  k: string;
  pressed?: boolean;
  onClick: () => void;
}) {
  return (
    <button
      type="button"
      title={hint}
      aria-pressed={pressed}
      onClick={onClick}
      className={`flex min-h-11 cursor-pointer items-center gap-1.5 px-2 ${pressed ? 'font-bold text-copper' : 'text-soft hover:text-ink'}`}
    >
      {name} <Key>{k}</Key>
    </button>
  );
}
