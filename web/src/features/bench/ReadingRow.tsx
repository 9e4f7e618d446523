import type { RefObject } from 'react';
import type { Schemas } from '../../api/client';
import { Button, Key } from '../../ui/Controls';
import { MarkShape, markWords } from '../../ui/Verdict';
import { ohmsText, readOhms } from '../../ui/ohms';

interface Props {
  step: Schemas['StepView'];
  saved: boolean;
  remote: boolean;
  measuring: boolean;
  typed: string;
  input: RefObject<HTMLInputElement | null>;
  onType: (text: string) => void;
  onTake: () => void;
  onMeasure: () => void;
  onGoOn: () => void;
  onFault: () => void;
}

/** The verdict, readable from a metre away, and where the next reading comes from. */
export function ReadingRow(p: Props) {
  const { step } = p;
  const done = step.state !== 'not-tested' && step.state !== 'retest';
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_auto] items-center gap-6">
      <div className="flex min-w-0 items-center gap-4" aria-live="polite" data-testid="verdict">
        <MarkShape mark={step.state} size={56} />
        <div className="min-w-0">
          <p className="truncate text-5xl leading-tight font-bold">
            {markWords[step.state]}
            {done && step.last && !step.skipped && <span className="font-mono font-normal"> {step.last.text}</span>}
          </p>
          <p className="text-lg">
            <span className="text-soft">must read</span> <b>{step.limitsText}</b>
            <span className="text-soft">
              {step.skipped && ` · ${step.skipped}`}
              {done &&
                !step.skipped &&
                (p.saved ? ` · saved, ${step.last?.by ?? ''}` : ' · kept here, not yet at the server')}
              {!done && step.noticedText && ` · ${step.noticedText}`}
            </span>
          </p>
        </div>
      </div>
      <div className="flex items-center gap-3">
        {step.state === 'fail' && (
          <Button onClick={p.onFault}>
            Log a fault here <Key>F</Key>
          </Button>
        )}
        <TypedReading {...p} />
        {p.remote && (
          <Button kind={done ? 'plain' : 'main'} onClick={p.onMeasure} disabled={p.measuring} className="min-h-14">
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

function TypedReading({ typed, input, onType, onTake }: Props) {
  const value = readOhms(typed);
  return (
    <form
      className="relative"
      onSubmit={(e) => {
        e.preventDefault();
        onTake();
      }}
    >
      <label className="sr-only" htmlFor="typed">
        Type a reading, such as 72m, 1.2, 12k or OL for over range
      </label>
      <input
        id="typed"
        ref={input}
        value={typed}
        onChange={(e) => onType(e.target.value)}
        autoComplete="off"
        placeholder="or type: 72m"
        className="h-14 w-40 rounded-sm border-2 border-edge bg-card px-3 font-mono text-xl placeholder:text-soft"
      />
      {typed !== '' && (
        <span className="absolute -top-7 left-0 bg-card px-2 whitespace-nowrap">
          {value === undefined ? 'a number, then m, k or M; OL for over range' : `= ${ohmsText(value)}`}
        </span>
      )}
    </form>
  );
}
