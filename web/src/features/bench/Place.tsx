import type { Schemas } from '../../api/client';
import { Face, sideWords, type Side } from '../../ui/Face';
import { Stripes } from '../../ui/WireMark';

type Loom = Schemas['LoomView'];

/** One place to touch: its connector's face with the cavity ringed. */
export function Place({ probe, point, loom, side }: { probe: string; point: string | null; loom: Loom; side: Side }) {
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
