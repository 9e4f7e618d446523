import type { Schemas } from '../../api/client';
import { Face, sideWords, type Side } from '../../ui/Face';
import { Stripes } from '../../ui/WireMark';

type Step = Schemas['StepView'];
type Loom = Schemas['LoomView'];

/** The two places to touch, each with its face drawn and its cavity ringed, and the wire between them in its own colours. */
export function TouchCard({ step, loom, side }: { step: Step; loom: Loom; side: Side }) {
  return (
    <div className="grid flex-1 grid-cols-[1fr_auto_1fr] items-stretch gap-3">
      <Place probe="Black probe" point={step.black} loom={loom} side={side} />
      <Between step={step} loom={loom} />
      <Place probe="Red probe" point={step.red} loom={loom} side={side} />
    </div>
  );
}

function Place({ probe, point, loom, side }: { probe: string; point: string | null; loom: Loom; side: Side }) {
  const [ref, cavity] = point?.split(':') ?? [];
  const connector = loom.connectors.find((c) => c.ref === ref);
  if (!connector || !cavity) {
    return (
      <div className="flex flex-col border-2 border-edge bg-card p-4">
        <p className="text-sm text-soft">{probe}</p>
        <p className="text-5xl font-bold">Shorting plug</p>
        <p className="mt-2 text-xl">All other circuits, joined.</p>
      </div>
    );
  }

  const face = side === 'mating' ? connector.matingFace : connector.wireSide;
  const colour = connector.pins.find((p) => p.cavity === cavity)?.colours[0];
  return (
    <div className="flex min-w-0 flex-col gap-2 border-2 border-edge bg-card p-3">
      <p className="flex justify-between gap-2 text-sm text-soft">
        <span>{probe}</span>
        <span className="truncate">{connector.title}</span>
      </p>
      <p className="flex items-baseline gap-4 text-5xl leading-none font-bold whitespace-nowrap">
        {ref}
        <span className="font-mono text-copper">{cavity}</span>
        {colour && (
          <span className="self-center">
            <Stripes colour={colour} width={60} height={20} />
          </span>
        )}
      </p>
      <p className="text-lg">
        <b>{face.cells.find((c) => c.cavity === cavity)?.spoken}</b>, seen from the {sideWords[side]}
      </p>
      <div className="flex min-h-24 flex-1 items-center justify-center">
        <Face connector={connector} side={side} ringed={cavity} height={150} />
      </div>
    </div>
  );
}

/** What should lie between the probes. */
function Between({ step, loom }: { step: Step; loom: Loom }) {
  const direct = loom.wires.find(
    (w) => (w.from === step.black && w.to === step.red) || (w.to === step.black && w.from === step.red),
  );
  return (
    <div className="flex w-52 flex-col items-center justify-center gap-2 text-center">
      <p className="text-2xl font-bold">{step.kind === 'continuity' ? 'Joined' : 'Apart'}</p>
      {direct ? (
        <>
          <Stripes colour={direct.colour} width={200} height={22} />
          <p className="text-lg">
            <span className="font-mono font-semibold">{direct.id}</span> {direct.colour.spoken}
          </p>
          <p className="text-soft">
            {direct.section}, {direct.lengthMm} mm
          </p>
        </>
      ) : (
        <p className="text-soft">{step.kind === 'continuity' ? 'by several wires' : 'no metal between them'}</p>
      )}
      {step.circuit && <p>{step.circuit}</p>}
    </div>
  );
}
