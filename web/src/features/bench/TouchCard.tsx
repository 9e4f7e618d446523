import type { ReactNode } from 'react';
import type { Schemas } from '../../api/client';
import { Face, sideWords, type Side } from '../../ui/Face';
import { Stripes } from '../../ui/WireMark';

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

function Place({ probe, point, loom, side }: { probe: string; point: string | null; loom: Loom; side: Side }) {
  const [ref, cavity] = point?.split(':') ?? [];
  const connector = loom.connectors.find((c) => c.ref === ref);
  if (!connector || !cavity) {
    return (
      <div className="flex min-w-0 flex-1 flex-col p-3">
        <p className="text-soft">{probe}</p>
        <p className="text-3xl font-bold sm:text-5xl">Shorting plug</p>
        <p className="mt-3 text-xl">All other circuits, joined.</p>
      </div>
    );
  }

  const face = side === 'mating' ? connector.matingFace : connector.wireSide;
  const colour = connector.pins.find((p) => p.cavity === cavity)?.colours[0];
  const counted = face.cells.find((c) => c.cavity === cavity)?.spoken;
  return (
    <div className="flex min-h-0 min-w-0 flex-1 flex-col gap-2 p-3">
      <p className="flex justify-between gap-2 text-soft max-sm:flex-col max-sm:gap-0">
        <span>{probe}</span>
        <span className="truncate">{connector.title}</span>
      </p>
      <div className="flex flex-wrap items-center justify-between gap-x-4 gap-y-1">
        <p className="flex flex-wrap items-center gap-x-4 gap-y-1 text-3xl leading-none font-bold whitespace-nowrap sm:text-5xl">
          {ref}
          <span className="font-mono text-copper">{cavity}</span>
          {colour && <Stripes colour={colour} width={64} height={24} />}
        </p>
        <p className="text-lg leading-tight">
          <b>{counted}</b> <span className="whitespace-nowrap">{sideWords[side]}</span>
        </p>
      </div>
      <div className="relative min-h-15 flex-1">
        <div className="absolute inset-0 flex items-center justify-center contain-strict">
          <Face connector={connector} side={side} ringed={cavity} />
        </div>
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
