import { memo, useState } from 'react';
import { Face, sideWords, type Side } from '../../ui/Face';
import type { Row } from '../../ui/grid/columns';
import { useDraftPlugs } from './useDrawn';

/** Faces of the plugs that the row in hand is about, as the draft stands. */
export const Beside = memo(function Beside({
  row,
  draft,
  version,
}: {
  row: Row | undefined;
  draft: number;
  version: number;
}) {
  const [side, setSide] = useState<Side>('wire');
  const ends = endsOfRow(row);
  const plugs = useDraftPlugs(draft, version, [...new Set(ends.map(([ref]) => ref))]);
  const shown = ends.flatMap(([ref, cavity]) => {
    const connector = plugs?.find((c) => c.ref === ref);
    return connector ? [{ connector, cavity }] : [];
  });
  return (
    <aside aria-label="Faces" className="min-h-0 contain-content space-y-4 overflow-y-auto">
      {shown.length > 0 && (
        <button
          type="button"
          className="min-h-9 cursor-pointer text-soft underline hover:text-ink"
          onClick={() => setSide(side === 'wire' ? 'mating' : 'wire')}
        >
          Seen from the {sideWords[side]}; turn
        </button>
      )}
      {shown.map(({ connector, cavity }, i) => (
        <figure key={`${connector.ref}${i}`} className="space-y-1">
          <figcaption>
            <b>
              {connector.ref} {cavity}
            </b>{' '}
            <span className="text-soft">{connector.title}</span>
            {cavity && (
              <span className="block text-sm">
                {
                  (side === 'mating' ? connector.matingFace : connector.wireSide).cells.find((c) => c.cavity === cavity)
                    ?.spoken
                }
              </span>
            )}
          </figcaption>
          <Face connector={connector} side={side} ringed={cavity} />
        </figure>
      ))}
      {shown.length === 0 && (
        <p className="text-soft">
          The faces of the plugs in the row you work on stand here, as soon as its ends lead somewhere.
        </p>
      )}
      <Keys />
    </aside>
  );
});

function Keys() {
  const keys: [string, string][] = [
    ['Type, Enter', 'write, go down'],
    ['Tab', 'write, go right'],
    ['Ctrl V', 'paste rows from a spreadsheet, with or without heads'],
    ['Shift ↓, Ctrl D', 'fill the top cell down'],
    ['Ctrl Shift D', 'fill down, counting up'],
    ['Ctrl Delete', 'remove rows'],
    ['Ctrl Z', 'undo'],
  ];
  return (
    <dl className="grid grid-cols-[8.5rem_1fr] gap-x-3 border-t border-line pt-2 text-sm text-soft">
      {keys.map(([key, what]) => (
        <div key={key} className="contents">
          <dt className="font-mono">{key}</dt>
          <dd>{what}</dd>
        </div>
      ))}
    </dl>
  );
}

function endsOfRow(row: Row | undefined): [string, string | undefined][] {
  if (!row) return [];
  const ends = [
    row.from,
    row.to,
    ...(typeof row.pins === 'object' && row.pins !== null ? Object.values(row.pins as Record<string, unknown>) : []),
  ];
  const places = ends.flatMap((e): [string, string | undefined][] => {
    const [ref, cavity] = typeof e === 'string' ? e.split(':') : [];
    return ref ? [[ref, cavity]] : [];
  });
  if (places.length === 0 && typeof row.ref === 'string') return [[row.ref, undefined]];
  return places.slice(0, 4);
}
