import type { Schemas } from '../../api/client';
import { Face, sideWords, type Side } from '../../ui/Face';

/** Faces of the connectors that a cause speaks of, its cavities ringed. */
export function CauseFaces({
  cause,
  loom,
  side,
}: {
  cause: Schemas['CauseView'];
  loom: Schemas['LoomView'];
  side: Side;
}) {
  const faces = loom.connectors.flatMap((connector) => {
    const ringed = cause.places
      .filter((p) => p.startsWith(`${connector.ref}:`))
      .map((p) => p.slice(connector.ref.length + 1));
    return ringed.length > 0 ? [{ connector, ringed }] : [];
  });
  return (
    <div className="flex flex-wrap items-start gap-4">
      {faces.slice(0, 4).map(({ connector, ringed }) => (
        <figure key={connector.ref} className="max-w-full min-w-40 flex-1">
          <figcaption className="mb-1">
            <b>{connector.ref}</b>{' '}
            <span className="font-mono text-copper">
              {ringed.length > 10 ? `${ringed.length} cavities` : ringed.join(', ')}
            </span>{' '}
            <span className="text-soft">{sideWords[side]}</span>
          </figcaption>
          <div className="flex h-28 items-start">
            <Face connector={connector} side={side} ringed={ringed} />
          </div>
        </figure>
      ))}
    </div>
  );
}
