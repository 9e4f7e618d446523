import { useState } from 'react';
import type { Schemas } from '../../api/client';
import { Input } from '../../ui/Controls';
import { Level } from '../../ui/Level';
import { Scroll } from '../../ui/Scroll';
import { WireMark } from '../../ui/WireMark';
import { TableHead } from '../../ui/TableHead';

/** What each wire shows and carries, the largest current first. */
export function Currents({
  loom,
  wires,
  at,
}: {
  loom: Schemas['LoomView'];
  wires: ReadonlyMap<string, Schemas['WireStateView']>;
  at: string | null;
}) {
  const [find, setFind] = useState('');
  const shown = loom.wires
    .filter((w) => !at || [w.from, w.to].some((end) => end.split(':')[0] === at))
    .filter((w) =>
      `${w.id} ${w.from} ${w.to} ${w.circuit} ${w.colour.spoken}`.toLowerCase().includes(find.toLowerCase()),
    )
    .map((wire) => ({ wire, state: wires.get(wire.id) }))
    .sort((a, b) => (b.state?.ampsNumber ?? 0) - (a.state?.ampsNumber ?? 0));
  return (
    <section aria-label="Wires" className="space-y-2">
      <div className="flex flex-wrap items-center gap-3">
        <h2 className="font-bold">
          Wires <span className="font-normal text-soft">{at ? `at ${at}, ` : ''}most current first</span>
        </h2>
        <div className="ml-auto w-56">
          <Input aria-label="Find a wire" placeholder="Find" value={find} onChange={(e) => setFind(e.target.value)} />
        </div>
      </div>
      <Scroll label="All wires" className="max-h-96">
        <table className="w-full text-left text-[0.95rem]">
          <TableHead names={['Wire', 'Shows', 'Carries', 'Loses', 'Way', 'Colour']} over="bg-paper" />
          <tbody>
            {shown.map(({ wire, state }) => (
              <tr key={wire.id} className="border-b border-line">
                <th scope="row" className="py-1 pr-3 font-mono font-semibold">
                  {wire.id}
                </th>
                <td className="pr-3">{state && <Level shown={state.shown} />}</td>
                <td className="pr-3 font-mono whitespace-nowrap">{state?.amps}</td>
                <td className="pr-3 font-mono whitespace-nowrap">{state?.forward === null ? '' : state?.drop}</td>
                <td className="pr-3">
                  <span className="font-mono whitespace-nowrap">
                    {state?.forward === false
                      ? `${wire.to} → ${wire.from}`
                      : `${wire.from} ${state?.forward ? '→' : '–'} ${wire.to}`}
                  </span>
                  <span className="block text-sm leading-tight text-soft">{wire.circuit}</span>
                </td>
                <td>
                  <WireMark colour={wire.colour} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </Scroll>
    </section>
  );
}
