import { useState } from 'react';
import { useSearchParams } from 'react-router';
import type { Schemas } from '../../api/client';
import { Face, sideWords, type Side } from '../../ui/Face';
import { WireMark } from '../../ui/WireMark';
import { TableHead } from '../../ui/TableHead';

/** One connector: both faces, where it sits, what it plugs into, and every pin. */
export function ConnectorPanel({ connector, ringed }: { connector: Schemas['ConnectorView']; ringed: string | null }) {
  const [, setSearch] = useSearchParams();
  const ring = (cavity: string) =>
    setSearch((now) => {
      now.set('cavity', cavity);
      return now;
    });
  const here = connector.pins.some((p) => p.cavity === ringed) ? (ringed ?? undefined) : undefined;
  const [under, setUnder] = useState<string | null>(null);
  const said = under ?? here;
  const counted = (side: Side) =>
    (side === 'mating' ? connector.matingFace : connector.wireSide).cells.find((c) => c.cavity === said)?.spoken;
  return (
    <section
      aria-label={connector.title}
      className="grid gap-6 border-b-2 border-edge bg-card p-4 lg:grid-cols-[minmax(20rem,2fr)_3fr]"
    >
      <div className="min-w-0 space-y-4">
        <h2 className="text-2xl font-bold">
          {connector.ref} <span className="text-lg font-normal text-soft">{connector.title}</span>
        </h2>
        {(['mating', 'wire'] as const).map((side) => (
          <figure key={side} className="space-y-1">
            <figcaption className="text-sm text-soft">
              Seen from the {sideWords[side]}
              {said && (
                <b className="text-ink">
                  {' '}
                  · cavity {said}: {counted(side)}
                </b>
              )}
            </figcaption>
            <Face connector={connector} side={side} ringed={here} onPick={ring} onUnder={setUnder} />
          </figure>
        ))}
        <dl className="grid grid-cols-[7rem_1fr] gap-x-3 gap-y-1 text-[0.95rem]">
          {facts(connector).map(([what, words]) => (
            <div key={what} className="contents">
              <dt className="text-soft">{what}</dt>
              <dd>{words}</dd>
            </div>
          ))}
        </dl>
      </div>
      <div className="max-h-[32rem] min-w-0 overflow-auto">
        <table className="w-full text-left text-[0.95rem]">
          <TableHead
            names={['Cavity', 'Wire', 'Section', 'Goes to', 'Function', 'Should read']}
            cell="py-1 pr-3"
            over="bg-card"
          />
          <tbody>
            {connector.pins
              .filter((p) => p.wires.length > 0)
              .map((p) => (
                <tr key={p.cavity} className={`border-b border-line align-top ${p.cavity === here ? 'bg-well' : ''}`}>
                  <th scope="row" className="py-1 pr-3">
                    <button
                      type="button"
                      className="min-h-6 min-w-8 cursor-pointer text-left font-mono font-semibold underline decoration-line"
                      onClick={() => ring(p.cavity)}
                    >
                      {p.cavity}
                    </button>
                  </th>
                  <td className="py-1 pr-3">
                    {p.colours.map((c, i) => (
                      <span key={p.wires[i]} className="mr-2 block">
                        <WireMark colour={c} />
                      </span>
                    ))}
                  </td>
                  <td className="py-1 pr-3 whitespace-nowrap">{p.section}</td>
                  <td className="py-1 pr-3">{p.goesTo}</td>
                  <td className="py-1 pr-3">{p.function}</td>
                  <td className="py-1 whitespace-nowrap">{p.reads}</td>
                </tr>
              ))}
          </tbody>
        </table>
        {(['blanked', 'empty'] as const).map((kind) => {
          const without = connector.pins.filter((p) => p.kind === kind);
          return (
            without.length > 0 && (
              <p key={kind} className="py-2 text-soft">
                {kind}: <span className="font-mono">{without.map((p) => p.cavity).join(' ')}</span>
              </p>
            )
          );
        })}
      </div>
    </section>
  );
}

function facts(c: Schemas['ConnectorView']): [string, string][] {
  const along = `${Math.round(c.alongMm)} mm along the trunk${c.offMm > 0 ? `, then ${Math.round(c.offMm)} mm out` : ''}`;
  const all: [string, string | null][] = [
    ['Where', c.place],
    ['On the loom', along],
    ['Plugs into', c.plugsInto.join(', ') || null],
    ['Housing', `${c.family}${c.sealed ? ', sealed' : ''}${c.keying ? `, keying ${c.keying}` : ''}`],
    ['To unlock', c.unlock],
    ['If left off', c.ifLeftOff],
    ['Mind', c.note],
  ];
  return all.filter((f): f is [string, string] => Boolean(f[1]));
}
