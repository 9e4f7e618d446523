import { useEffect, useRef, useState } from 'react';
import type { Schemas } from '../../api/client';
import { Button, Key } from '../../ui/Controls';
import { ErrorNotice, Notice } from '../../ui/Notice';
import { Sheet } from '../../ui/Sheet';
import { readTyped } from '../../ui/readings';
import { useMayChange } from '../../ui/mayChange';
import { usePageKeys } from '../../ui/usePageKeys';
import type { Side } from '../../ui/Face';
import { useJob } from '../jobs/JobShell';
import { AwayDialog } from './AwayDialog';
import { CareDialog } from './CareDialog';
import { KeysDialog } from './KeysDialog';
import { LookCard } from './LookCard';
import { LogFaultDialog } from './LogFaultDialog';
import { NextPlaces } from './NextPlaces';
import { useOutbox } from './Outbox';
import { verdictOf } from './onTheWay';
import { spoken } from './places';
import { ProgressBar } from './ProgressBar';
import { Others } from './Others';
import { ReadingRow } from './ReadingRow';
import { Reason } from './Reason';
import { Ruler } from './Ruler';
import { ShareDialog } from './ShareDialog';
import { SkipDialog } from './SkipDialog';
import { say, sound } from './sound';
import { StepList } from './StepList';
import { TouchCard } from './TouchCard';
import { useBenchRun } from './useBenchRun';
import { useGoing } from './useGoing';
import { WaysDialog } from './WaysDialog';
import { WiggleDialog } from './WiggleDialog';

type Dialog = 'wiggle' | 'share' | 'care' | 'keys' | 'ways' | 'skip' | 'fault' | 'reason' | 'away' | 'plan' | null;

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
  const bench = useBenchRun(job, stored);
  const { run, step, next, judged, measure, take, goTo, goOn, nextRetest, unsaved } = bench;
  const { going, ended, start, stop } = useGoing(bench);
  const { hurry } = bench;
  useEffect(() => hurry(going !== null), [hurry, going]);
  const [side, setSide] = useState<Side>('wire');
  const [dialog, setDialog] = useState<Dialog>(null);
  const [loud, setLoud] = useState(false);
  const [typed, setTyped] = useState('');
  const input = useRef<HTMLInputElement>(null);
  const before = useRef<Schemas['StepView'] | null>(null);
  const mayChange = useMayChange();
  // Keys are the page's from the first sight of it, and again when a dialog closes.
  const frame = useRef<HTMLDivElement>(null);
  useEffect(() => frame.current?.focus({ preventScroll: true }), []);

  const { black, red } = step ?? {};
  useEffect(() => {
    const show = () => point([black, red].map((p) => p?.split(':')[0] ?? ''));
    // At the fixture's speed nobody can follow it from tag to tag: the stem shows where it lingers.
    if (!going) show();
    const later = going ? setTimeout(show, 150) : undefined;
    return () => clearTimeout(later);
  }, [point, black, red, going]);
  useEffect(() => () => point([]), [point]);
  useEffect(() => {
    if (loud && judged) sound(judged.verdict);
  }, [judged, loud]);
  useEffect(() => {
    if (loud && step) say(spoken(step, before.current, loom));
    before.current = step ?? null;
    // Said once for each step, not again for each of its readings.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [loud, step?.number]);

  const takeTyped = () => {
    const value = step && readTyped(typed, step.unit);
    if (value === undefined || !mayChange) return;
    setTyped('');
    void take(value, false, run.lastEvent);
  };
  const isByHand = going?.way === 'hands-free' && !run.meter.matrix && step?.joined === false;
  const takeHere = () => {
    if (!step?.remote || measure.isPending || !mayChange) return;
    measure.mutate(undefined, {
      // A hand that says when it touches two places that stand apart goes on as all others do.
      onSuccess: ({ shown }) => {
        if (isByHand && verdictOf(step, shown.overRange ? null : shown.ohms) === 'pass') goOn();
      },
    });
  };
  const look = (found: 0 | 1) => {
    if (mayChange) void take(found, false, run.lastEvent);
  };
  const enter = () => {
    if (typed) takeTyped();
    else if (step?.standing.last && step.standing.state !== 'retest') goOn();
  };
  const press = {
    ' ': () => {
      if (step?.unit === 'sight') look(1);
      else takeHere();
    },
    x: () => {
      if (step?.unit === 'sight') look(0);
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
    n: () => setDialog('away'),
    c: () => setDialog('care'),
    w: () => {
      if (step?.remote && mayChange) setDialog('wiggle');
    },
    g: () => {
      if (mayChange) setDialog('share');
    },
    p: () => setDialog('plan'),
    b: () => {
      if (step?.remote && mayChange) setDialog('ways');
    },
    // A keypad alone is enough: with these and Enter one measures, goes on and goes back.
    '*': () => press[' '](),
    '-': () => press.ArrowLeft(),
    '+': () => {
      if (step?.unit === 'sight') {
        look(0);
        return;
      }
      setTyped('+');
      input.current?.focus();
    },
    Escape: stop,
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
    // A button takes Space and Enter for itself, a link only Enter.
    const taker = { ' ': 'button', Enter: 'button,a' }[event.key];
    if (taker && event.target instanceof HTMLElement && event.target.closest(taker)) return;
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
  const nextPlaces = (
    <NextPlaces step={step} next={next} loom={loom} waiting={bench.waiting} theirs={bench.theirs} onPlan={press.p} />
  );
  const waiting = unsaved.some((w) => w.reading.step === step.number);
  return (
    <div ref={frame} tabIndex={-1} className="relative flex min-h-0 flex-1 outline-none">
      <div className="flex min-w-0 flex-1 flex-col gap-2 overflow-y-auto p-2 xl:gap-3 xl:p-3">
        <ProgressBar run={run} step={step}>
          <Tool name="Turn" hint="Turn faces" k="T" onClick={press.t} />
          <Tool name="Why" hint="Why these limits" k="Y" onClick={press.y} />
          {step.remote && <Tool name="No key" hint="Take readings without a key" k="B" onClick={press.b} />}
          {step.remote && <Tool name="Move" hint="Read while the loom is flexed" k="W" onClick={press.w} />}
          <Tool
            name="Away"
            hint="Connectors that are not at hand"
            k="N"
            pressed={bench.away.length > 0}
            onClick={press.n}
          />
          <Tool
            name="Meter"
            hint={run.progress.care ?? 'Is the meter right?'}
            k="C"
            asks={run.progress.care !== null}
            onClick={press.c}
          />
          <Tool name="Skip" hint="Skip this step" k="S" onClick={press.s} />
          <Tool name="Voice" hint="Voice and tones" k="V" pressed={loud} onClick={press.v} />
          <Tool name="" hint="Keys of this page" k="?" onClick={press['?']} />
        </ProgressBar>
        <Others people={bench.people} />
        {outbox.waiting.length > 0 && outbox.trouble && (
          <Notice tone="mind">
            <b>
              {outbox.waiting.length} {outbox.waiting.length === 1 ? 'reading waits' : 'readings wait'} here.
            </b>{' '}
            {outbox.trouble} What waits is kept on this machine and sent by itself; go on measuring.
          </Notice>
        )}
        {going && (
          <div className="flex items-center gap-4 border-2 border-copper px-3" role="status">
            <p className="flex-1 text-xl font-bold">
              {isByHand
                ? 'Hands-free: touch both places and press Space. A probe in the air reads the same.'
                : going.way === 'hands-free'
                  ? 'Hands-free: hold still until the tone.'
                  : 'The fixture takes the plan by itself.'}
            </p>
            <Button kind="main" className="min-h-14 min-w-40" onClick={stop}>
              Stop <Key>Esc</Key>
            </Button>
          </div>
        )}
        {!going && ended && (
          <Notice tone="mind">
            <span data-testid="ended">{ended.words}</span>
          </Notice>
        )}
        {run.progress.meterInDoubt && run.progress.care && !going && (
          <Notice tone="mind">
            <b>{run.progress.care}</b>
          </Notice>
        )}
        {step.standing.late && <Notice tone="mind">{step.standing.late}</Notice>}
        {step.subject === null ? (
          <TouchCard step={step} loom={loom} side={side} cautions={loadCautions} next={nextPlaces} />
        ) : (
          <LookCard run={run} step={step} loom={loom} side={side} next={nextPlaces} />
        )}
        {step.unit !== 'sight' && (
          <Ruler
            step={step}
            value={step.standing.state === 'retest' ? undefined : step.standing.last?.value}
            verdict={step.standing.state === 'retest' ? undefined : step.standing.last?.verdict}
          />
        )}
        <ReadingRow
          step={step}
          before={judged?.step === step.number ? null : judged}
          saved={!waiting}
          measuring={measure.isPending}
          typed={typed}
          input={input}
          onType={setTyped}
          onTake={takeTyped}
          onMeasure={takeHere}
          onLook={look}
          onGoOn={goOn}
          onFault={() => setDialog('fault')}
        />
        <ErrorNotice error={measure.error ?? ended?.error} />
      </div>
      <StepList
        className="hidden w-64 shrink-0 border-l-2 border-edge xl:flex"
        steps={run.steps}
        at={at}
        here={step.number}
        onGoTo={goTo}
      />
      {dialog === 'wiggle' && (
        <WiggleDialog
          run={run}
          step={step}
          onClose={(seen) => {
            setDialog(null);
            if (seen) void take(seen.value, true, run.lastEvent, seen.moved);
          }}
        />
      )}
      {dialog === 'share' && (
        <ShareDialog run={run} loom={loom} people={bench.people} onClose={() => setDialog(null)} />
      )}
      {dialog === 'care' && <CareDialog run={run} onClose={() => setDialog(null)} />}
      {dialog === 'keys' && <KeysDialog onClose={() => setDialog(null)} />}
      {dialog === 'ways' && (
        <WaysDialog
          matrix={run.meter.matrix}
          onClose={(chosen) => {
            setDialog(null);
            if (!chosen) return;
            if (chosen.way === 'hands-free') setLoud(true);
            start(chosen);
          }}
        />
      )}
      {dialog === 'reason' && <Reason run={run} step={step} onClose={() => setDialog(null)} />}
      {dialog === 'skip' && (
        <SkipDialog
          run={run}
          jobId={job.id}
          step={step}
          onClose={(skipped) => {
            setDialog(null);
            if (!skipped) return;
            goOn();
            bench.replan();
          }}
        />
      )}
      {dialog === 'plan' && (
        <Sheet title="Go to a step" onClose={() => setDialog(null)}>
          <StepList
            className="flex h-[60vh]"
            steps={run.steps}
            at={at}
            here={step.number}
            onGoTo={(to) => {
              setDialog(null);
              goTo(to);
            }}
          />
        </Sheet>
      )}
      {dialog === 'away' && (
        <AwayDialog
          loom={loom}
          step={step}
          away={bench.away}
          onShare={press.g}
          onClose={(away) => {
            setDialog(null);
            if (away) bench.setAway(away);
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
  asks = false,
  onClick,
}: {
  name: string;
  hint: string;
  k: string;
  pressed?: boolean;
  /** It is asked for now. */
  asks?: boolean;
  onClick: () => void;
}) {
  return (
    <button
      type="button"
      title={hint}
      aria-label={name === '' ? hint : undefined}
      aria-pressed={pressed}
      onClick={onClick}
      className={`flex min-h-11 cursor-pointer items-center gap-1 px-0.5 text-sm whitespace-nowrap ${asks ? 'bg-doubt/25 font-bold text-ink outline-1 outline-doubt' : pressed ? 'font-bold text-copper' : 'text-soft hover:text-ink'}`}
    >
      {name} <Key>{k}</Key>
    </button>
  );
}
