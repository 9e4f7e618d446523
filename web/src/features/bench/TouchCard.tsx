import type { ReactNode } from 'react';
import type { Schemas } from '../../api/client';
import type { Side } from '../../ui/Face';
import { Stripes } from '../../ui/WireMark';
import { Place } from './Place';

type Step = Schemas['StepView'];
type Loom = Schemas['LoomView'];

/** The two places to touch, each with its face drawn and its cavity ringed, and what should lie between them. */
export function TouchCard({
  step,
  loom,
  side,
  cautions,
  next,
}: {
  step: Step;
  loom: Loom;
  side: Side;
  /** What stands before a step under load. */
  cautions: readonly string[];
  /** What comes after it. */
  next: ReactNode;
}) {
  return (
    <div className="flex flex-[1_0_auto] flex-col border-2 border-edge bg-card contain-content">
      {step.setup && (
        <div
          className={`border-b-2 px-3 py-1 ${step.phase === 'under-load' ? 'border-doubt bg-doubt/20' : 'border-edge'}`}
        >
          {step.phase === 'under-load' && <p className="text-sm">{cautions.join(' ')}</p>}
          <p className="flex gap-4 text-lg leading-tight">
            <b>
              {step.phase === 'under-load' ? 'Under load: ' : 'Set up: '}
              {step.setup}
            </b>
            <span className="ml-auto text-sm whitespace-nowrap">{step.circuit}</span>
          </p>
        </div>
      )}
      <div className="grid min-h-0 flex-1 grid-cols-2">
        <Place probe="Black probe" point={step.black} loom={loom} side={side} />
        <div className="flex min-h-0 min-w-0 border-l-2 border-edge">
          <Place probe="Red probe" point={step.red} loom={loom} side={side} />
        </div>
      </div>
      <div className={`grid border-t-2 border-edge ${step.setup ? '' : 'lg:grid-cols-2'}`}>
        {!step.setup && <Between step={step} loom={loom} />}
        {next}
      </div>
    </div>
  );
}

/** What should lie between the probes, with the wire in its own colours. */
function Between({ step, loom }: { step: Step; loom: Loom }) {
  const direct = loom.wires.find(
    (w) => (w.from === step.black && w.to === step.red) || (w.to === step.black && w.from === step.red),
  );
  return (
    <p className="flex min-w-0 flex-wrap items-center gap-x-4 px-3 py-1 text-lg max-lg:border-b-2 max-lg:border-edge">
      <b className="text-xl">{step.joined ? 'Joined' : 'Apart'}</b>
      {direct ? (
        <>
          <span>
            by <span className="font-mono font-semibold">{direct.id}</span>
          </span>
          <Stripes colour={direct.colour} width={120} height={18} />
          <span>{direct.colour.spoken}</span>
          <span className="text-soft">
            {direct.section}, {direct.lengthMm} mm
          </span>
        </>
      ) : (
        <span className="text-soft">
          {step.joined ? 'by ' : 'no metal between these two'}
          {step.joined && <span className="font-mono text-ink">{step.way.join(' – ')}</span>}
        </span>
      )}
      {step.circuit && <span className="ml-auto">{step.circuit}</span>}
    </p>
  );
}
