import type { Schemas } from '../../api/client';
import { Level } from '../../ui/Level';
import { WireMark } from '../../ui/WireMark';
import { TableHead } from '../../ui/TableHead';

/** Cavities of one connector, each with what it shows. */
export function PointTable({
  connector,
  points,
  chosen,
  onPick,
}: {
  connector: Schemas['ConnectorView'];
  points: ReadonlyMap<string, Schemas['PointView']>;
  chosen: string | null;
  onPick: (cavity: string) => void;
}) {
  return (
    <table className="w-full text-left text-[0.95rem]">
      <TableHead names={['Cavity', 'Shows', 'Wire', 'Function', 'Goes to']} />
      <tbody>
        {connector.pins
          .filter((p) => p.wires.length > 0)
          .map((p) => {
            const point = points.get(`${connector.ref}:${p.cavity}`);
            return (
              <tr key={p.cavity} className={`border-b border-line ${p.cavity === chosen ? 'bg-well' : ''}`}>
                <th scope="row">
                  <button
                    type="button"
                    className="min-h-9 min-w-10 cursor-pointer text-left font-mono font-semibold underline decoration-line"
                    onClick={() => onPick(p.cavity)}
                  >
                    {p.cavity}
                  </button>
                </th>
                <td className="pr-3 whitespace-nowrap">
                  {point && (
                    <span className="inline-flex items-center gap-2">
                      <Level shown={point.shown} share={point.level} />
                      <span className="font-mono">{point.text}</span>
                    </span>
                  )}
                </td>
                <td className="pr-3">{p.colours[0] && <WireMark colour={p.colours[0]} />}</td>
                <td className="pr-3">{p.function}</td>
                <td className="text-soft">{p.goesTo}</td>
              </tr>
            );
          })}
      </tbody>
    </table>
  );
}
