import type { Schemas } from '../../api/client';

type Loom = Schemas['LoomView'];

/** How to count to a place in its face, seen from the wire side; empty for the shorting plug. */
export function countedAt(point: string | null, loom: Loom): string {
  const [ref, cavity] = point?.split(':') ?? [];
  return loom.connectors.find((c) => c.ref === ref)?.wireSide.cells.find((c) => c.cavity === cavity)?.spoken ?? '';
}

/** A place as one person tells it to another: the plug's name, then how to count to the cavity. */
function told(point: string | null, loom: Loom): string {
  if (point === null) return 'the shorting plug';
  const [ref, cavity] = point.split(':');
  const connector = loom.connectors.find((c) => c.ref === ref);
  const counted = countedAt(point, loom);
  return `${connector?.title || ref}, ${counted || `cavity ${cavity}`}`;
}

/** Where to touch, in words; what stays is said as such. */
export function spoken(
  { black, red, subject, unit }: Pick<Schemas['StepView'], 'black' | 'red' | 'subject' | 'unit'>,
  before: Pick<Schemas['StepView'], 'black' | 'red'> | null,
  loom: Loom,
): string {
  if (subject) return `${unit === 'sight' ? 'Look at' : 'Pull'} ${subject}.`;
  const probe = (name: string, to: string | null, from: string | null | undefined) =>
    to === from ? `${name} stays.` : `${name}: ${told(to, loom)}.`;
  return `${probe('Black', black, before?.black)} ${probe('Red', red, before && before.red)}`;
}
