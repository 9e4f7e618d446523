import type { RefObject } from 'react';
import type { Schemas } from '../../api/client';
import { Button, Key } from '../../ui/Controls';
import { MarkShape, markWords } from '../../ui/Verdict';
import { useMayChange } from '../../ui/mayChange';
import { readingText, readTyped, typedHints } from '../../ui/readings';

interface Props {
  step: Schemas['StepView'];
  /** What the step before said; null when this one has been judged since. */
  before: { step: number; verdict: Schemas['Verdict']; text: string } | null;
  saved: boolean;
  measuring: boolean;
  typed: string;
  input: RefObject<HTMLInputElement | null>;
  onType: (text: string) => void;
  onTake: () => void;
  onMeasure: () => void;
  /** What an eye found: 1 for as it should be. */
  onLook: (found: 0 | 1) => void;
  onGoOn: () => void;
  onFault: () => void;
}

/** The verdict, readable from a metre away, and where the next reading comes from. */
export function ReadingRow(p: Props) {
  const { step } = p;
  const mayChange = useMayChange();
  const done = step.standing.state !== 'not-tested' && step.standing.state !== 'retest';
  return (
    <div
      className="sticky -bottom-2 z-10 grid shrink-0 grid-cols-[auto_minmax(0,1fr)] items-center gap-x-4 bg-paper py-1 md:grid-cols-[auto_minmax(0,1fr)_auto] xl:-bottom-3"
      data-testid="verdict"
    >
      <div className="self-center md:row-span-2">
        <MarkShape mark={step.standing.state} size={60} />
      </div>
      <p className="text-5xl md:col-span-2 leading-tight font-bold whitespace-nowrap" aria-live="polite">
        {markWords[step.standing.state]}
        {done && step.standing.last && !step.standing.skipped && (
          <span className="font-mono font-normal"> {step.standing.last.text}</span>
        )}
      </p>
      <div className="col-span-2 min-w-0 md:col-span-1">
        <p className="text-xl">
          <span className="text-soft">{step.unit === 'sight' ? 'all of it' : 'must read'}</span>{' '}
          <b className="whitespace-nowrap">{step.limitsText}</b>
        </p>
        <p className="text-soft">
          {step.standing.skipped}
          {step.standing.carried}
          {done &&
            !step.standing.skipped &&
            !step.standing.carried &&
            step.standing.last?.moved &&
            `${step.standing.last.moved}. `}
          {done &&
            !step.standing.skipped &&
            !step.standing.carried &&
            (p.saved ? `Saved, ${step.standing.last?.by ?? ''}.` : 'Kept here, not yet at the server.')}
          {!done &&
            (p.before
              ? `Step ${p.before.step}: ${markWords[p.before.verdict].toLowerCase()}, ${p.before.text}.`
              : step.noticedText)}
        </p>
      </div>
      <div className="col-span-2 flex flex-wrap items-center gap-3 md:col-span-1">
        {step.standing.state === 'fail' && (
          <Button changes onClick={p.onFault} className="min-h-14">
            Log a fault <Key>F</Key>
          </Button>
        )}
        {mayChange && step.unit !== 'sight' && <TypedReading {...p} />}
        {step.unit === 'sight' && (
          <>
            <Button changes kind={done ? 'plain' : 'main'} onClick={() => p.onLook(1)} className="min-h-14">
              As it should be <Key>Space</Key>
            </Button>
            <Button changes onClick={() => p.onLook(0)} className="min-h-14">
              Not so <Key>X</Key>
            </Button>
          </>
        )}
        {step.remote && (
          <Button
            changes
            kind={done ? 'plain' : 'main'}
            onClick={p.onMeasure}
            disabled={p.measuring}
            className="min-h-14"
          >
            {p.measuring ? 'Reading …' : done ? 'Take again' : 'Take reading'} <Key>Space</Key>
          </Button>
        )}
        {done && (
          <Button kind="main" onClick={p.onGoOn} className="min-h-14">
            Go on <Key>Enter</Key>
          </Button>
        )}
      </div>
    </div>
  );
}

function TypedReading({ step, typed, input, onType, onTake }: Props) {
  const value = readTyped(typed, step.unit);
  const hints = typedHints[step.unit];
  return (
    <form
      className="relative"
      onSubmit={(e) => {
        e.preventDefault();
        onTake();
      }}
    >
      <label className="sr-only" htmlFor="typed">
        {hints.label}
      </label>
      <input
        id="typed"
        ref={input}
        value={typed}
        onChange={(e) => onType(e.target.value)}
        autoComplete="off"
        placeholder={hints.example}
        className="h-14 w-28 rounded-sm border-2 border-edge bg-card px-3 font-mono text-xl placeholder:text-soft"
      />
      {typed !== '' && (
        <span className="absolute -top-7 left-0 bg-card px-2 whitespace-nowrap">
          {value === undefined ? hints.form : `= ${readingText(value, step.unit)}`}
        </span>
      )}
    </form>
  );
}
