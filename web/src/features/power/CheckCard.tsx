import { useRef, useState } from 'react';
import { Button, Input } from '../../ui/Controls';
import { ErrorNotice, Notice } from '../../ui/Notice';
import { usePageKeys } from '../../ui/usePageKeys';
import { MarkWord } from '../../ui/Verdict';
import { CardCauses } from './CardCauses';
import { CardPhotos } from './CardPhotos';
import { DryClock } from './DryClock';
import { useDrive } from './useDrive';
import type { usePowerUp } from './usePowerUp';
import { WhichMoved } from './WhichMoved';
import { figure, markOf, type Check, type Stage, type View } from './words';

/** One check: cautions first, then what to do, where to look, what to expect and why; answered with one key. */
export function CheckCard({
  job,
  run,
  view,
  stage,
  check,
  controller,
  power,
  read: seen,
  onRead,
  onAnswer,
  onNext,
}: {
  job: number;
  run: number;
  view: View;
  stage: Stage;
  check: Check;
  controller: string | null;
  power: ReturnType<typeof usePowerUp>;
  /** Whether its cautions have been read. */
  read: boolean;
  onRead: () => void;
  /** The page stays at this card, so that its verdict is seen. */
  onAnswer: () => void;
  onNext: () => void;
}) {
  const [typed, setTyped] = useState('');
  const [note, setNote] = useState('');
  const [others, setOthers] = useState(false);
  const meter = useRef<HTMLFormElement>(null);
  const drive = useDrive(job, check, controller, seen);
  const isFigure = check.expect.outcome === null;
  const value = figure(typed, check.expect.unit);
  const locked = stage.state === 'locked';
  const way = power.wayOf(check.id);
  const may = seen && !locked && way?.state !== 'pending';
  const said = { cautionsSeen: seen, note: note.trim() || null };
  const say: typeof power.say = (id, of) => {
    onAnswer();
    power.say(id, of);
  };
  const see = (outcome: string) => say(check.id, { ...said, answer: { kind: 'seen', outcome: wire(outcome) } });
  const asExpected = () => check.expect.outcome && see(check.expect.outcome);
  const otherwise = () => check.expect.otherwise && see(check.expect.otherwise);
  const measure = () => say(check.id, { ...said, controller });
  const keep = () => {
    if (value !== undefined) say(check.id, { ...said, answer: { kind: 'measured', value } });
  };
  usePageKeys((e, inField) => {
    if (inField) return;
    const press: Record<string, (() => void) | undefined> = {
      c: seen ? undefined : onRead,
      ' ': may && controller ? measure : undefined,
      Enter: may && !isFigure && check.state !== 'passed' ? asExpected : onNext,
      x: may && !isFigure ? otherwise : undefined,
      d: may && check.output && controller ? drive.go : undefined,
      Escape: drive.busy ? drive.stop : undefined,
      n: onNext,
    };
    // A digit goes into the field that it is typed for.
    if (/^[\d.]$/.test(e.key)) return meter.current?.querySelector('input')?.focus();
    const act = press[e.key];
    if (!act) return;
    e.preventDefault();
    act();
  });
  return (
    <article aria-labelledby="check" className="border-2 border-edge bg-card">
      {check.cautions.length > 0 && (
        <div className="border-b-2 border-doubt bg-doubt/20 px-4 py-3">
          <ul className="list-disc space-y-1 pl-5 text-lg">
            {check.cautions.map((c) => (
              <li key={c}>{c}</li>
            ))}
          </ul>
          {!seen && (
            <Button kind="main" className="mt-3 min-h-14 text-xl" onClick={onRead}>
              I have read this <kbd>C</kbd>
            </Button>
          )}
        </div>
      )}
      <p className="border-b-2 border-edge px-4 py-2">
        <b>Set up: </b>
        {check.setUpTitle}
      </p>
      <div className="grid gap-x-6 gap-y-3 p-4 lg:grid-cols-[3fr_2fr]">
        <div className="space-y-2">
          <h3 id="check" className="text-3xl leading-tight font-bold">
            <Unbroken text={check.do} />
          </h3>
          <p className="text-lg">{check.with}</p>
        </div>
        <div className="border-l-2 border-line pl-4">
          <p className="text-soft">Should be</p>
          <p className="text-4xl leading-tight font-bold">{check.expect.outcome ?? short(check)}</p>
          {check.expect.outcome === null && <p className="text-soft">{check.expect.words}</p>}
          {check.shownWords && (
            <p>
              ‘{check.channel}’ then shows {check.shownWords}
            </p>
          )}
        </div>
      </div>
      <details className="border-t-2 border-edge px-4 py-2">
        <summary className="cursor-pointer">Why</summary>
        <p className="py-1">{check.why}</p>
      </details>
      {check.id === 'first run' && <DryClock seconds={view.secondsDry} />}
      <div className="space-y-3 border-t-2 border-edge p-4">
        {locked ? (
          <p className="text-soft">This stage is locked: the stages before it are passed first.</p>
        ) : !seen ? (
          <p className="text-soft">Read the cautions above; then this card can be answered.</p>
        ) : (
          <div className="flex flex-wrap items-center gap-3">
            {controller && (
              <Button changes kind="main" className="min-h-14 text-xl" disabled={!may} onClick={measure}>
                {check.asks ? 'Ask the controller' : isFigure ? 'Measure' : 'Look'} <kbd>Space</kbd>
              </Button>
            )}
            {check.output && controller && (
              <Button changes className="min-h-14 text-xl" disabled={!may || drive.busy} onClick={drive.go}>
                {drive.busy ? 'Driving …' : 'Drive it'} <kbd>D</kbd>
              </Button>
            )}
            {isFigure ? (
              <form
                ref={meter}
                className="flex items-center gap-2"
                onSubmit={(e) => {
                  e.preventDefault();
                  if (may) keep();
                }}
              >
                <span className="w-36">
                  <Input
                    aria-label={`What the meter shows, ${check.expect.unit}`}
                    className="h-14 font-mono text-xl"
                    value={typed}
                    autoComplete="off"
                    onChange={(e) => setTyped(e.target.value)}
                  />
                </span>
                {check.expect.unit}
                <Button
                  changes
                  type="submit"
                  className="min-h-14 whitespace-nowrap"
                  disabled={!may || value === undefined}
                >
                  Keep it
                </Button>
              </form>
            ) : (
              <>
                <Button changes className="min-h-14 text-xl" disabled={!may} onClick={asExpected}>
                  {check.expect.outcome} <kbd>Enter</kbd>
                </Button>
                <Button changes className="min-h-14 text-xl" disabled={!may} onClick={otherwise}>
                  {check.expect.otherwise} <kbd>X</kbd>
                </Button>
                {check.output && (
                  <Button changes className="min-h-14" disabled={!may} onClick={() => setOthers(!others)}>
                    Another one moved
                  </Button>
                )}
              </>
            )}
            <Button className="ml-auto min-h-14" onClick={onNext}>
              Next <kbd>N</kbd>
            </Button>
          </div>
        )}
        {others && (
          <WhichMoved
            view={view}
            onMoved={(devices) => say(check.id, { ...said, answer: { kind: 'others', devices } })}
          />
        )}
        {drive.told && <p role="status">{drive.told}</p>}
        <ErrorNotice error={drive.error} />
        {seen && !locked && (
          <Input
            aria-label="Note beside the answer"
            placeholder="A note beside the answer"
            value={note}
            onChange={(e) => setNote(e.target.value)}
          />
        )}
        {way?.state === 'error' && (
          <>
            <ErrorNotice error={way.error} />
            <Button onClick={() => power.again(check.id)}>Send it again</Button>
          </>
        )}
        {check.answer && (
          <div aria-live="polite" className="flex flex-wrap items-baseline gap-x-4 border-t-2 border-line pt-3">
            <span className="text-3xl font-bold">
              <MarkWord mark={markOf(check.state)} />
            </span>
            <span className="text-2xl">{check.answer.said}</span>
            <span className="text-soft">
              {check.answer.by}, {new Date(check.answer.at).toLocaleString()}
            </span>
            {check.answer.note && <p className="basis-full">{check.answer.note}</p>}
          </div>
        )}
        {check.state === 'failed' && <CardCauses job={job} run={run} check={check} />}
        {check.state === 'again' && (
          <Notice tone="mind">Something that this depends on was mended since: do it again.</Notice>
        )}
        <CardPhotos run={run} job={job} check={check} />
      </div>
    </article>
  );
}

/** A sentence that breaks at its spaces and not at the hyphen in the name of a place. */
const Unbroken = ({ text }: { text: string }) =>
  text.split(/(\S*-\S*)/).map((part, n) => (
    <span key={n} className={n % 2 ? 'whitespace-nowrap' : ''}>
      {part}
    </span>
  ));

/** The outcome as the wire writes it. */
const wire = (outcome: string) => outcome.replaceAll(' ', '-') as 'lights';

function short(check: Check) {
  const { nominal, min, unit } = check.expect;
  if (nominal === null) return `over ${scaled(min ?? 0, unit)}`;
  return scaled(nominal, unit);
}

function scaled(value: number, unit: string) {
  const size = Math.abs(value);
  const [by, sign] =
    size >= 1e6 ? [1e6, 'M'] : size >= 1e3 ? [1e3, 'k'] : size >= 1 || size < 1e-6 ? [1, ''] : [1e-3, 'm'];
  return `${Number((value / by).toPrecision(3))} ${sign}${unit}`;
}
