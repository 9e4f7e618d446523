import { useState } from 'react';
import { useSearchParams } from 'react-router';
import type { Schemas } from '../../api/client';
import { Input } from '../../ui/Controls';
import { WireMark } from '../../ui/WireMark';

type Wire = Schemas['WireView'];

const columns: { head: string; sort: (w: Wire) => string | number }[] = [
  { head: 'Wire', sort: (w) => w.id },
  { head: 'From', sort: (w) => w.from },
  { head: 'To', sort: (w) => w.to },
  { head: 'Colour', sort: (w) => w.colour.text },
  { head: 'Section', sort: (w) => w.section },
  { head: 'Length', sort: (w) => w.lengthMm },
  { head: 'Circuit', sort: (w) => w.circuit ?? '' },
  { head: 'Role', sort: (w) => w.role ?? '' },
  { head: 'Twisted with', sort: (w) => w.group ?? '' },
  { head: 'Wire reads', sort: (w) => w.ohms },
];

const byNature = new Intl.Collator('en', { numeric: true });

/** All wires, or those of the chosen connector; filtered by any word, sorted by any column. */
export function WireTable({ loom, at }: { loom: Schemas['LoomView']; at: string | null }) {
  const [find, setFind] = useState('');
  const [order, setOrder] = useState({ column: 0, down: false });
  const sort = columns[order.column]?.sort ?? ((w: Wire) => w.id);
  const shown = loom.wires
    .filter((w) => !at || [w.from, w.to].some((end) => end.split(':')[0] === at))
    .filter((w) =>
      [w.id, w.from, w.to, w.colour.text, w.colour.spoken, w.section, w.circuit, w.role, w.group]
        .join(' ')
        .toLowerCase()
        .includes(find.toLowerCase()),
    )
    .sort((a, b) => {
      const [x, y] = [sort(a), sort(b)];
      const way = typeof x === 'number' && typeof y === 'number' ? x - y : byNature.compare(String(x), String(y));
      return order.down ? -way : way;
    });
  return (
    <section aria-label="Wires" className="flex min-h-80 flex-1 flex-col p-4">
      <div className="mb-2 flex items-center gap-4">
        <h2 className="text-xl font-bold">Wires{at && ` at ${at}`}</h2>
        <div className="w-72">
          <Input
            aria-label="Find wires"
            placeholder="Any end, colour, circuit …"
            value={find}
            onChange={(e) => setFind(e.target.value)}
          />
        </div>
        <span className="text-soft">
          {shown.length} of {loom.wires.length}
        </span>
      </div>
      <div className="overflow-x-auto">
        <table className="w-full text-left text-[0.95rem]">
          <thead className="text-soft">
            <tr className="border-b-2 border-edge">
              {columns.map((c, i) => (
                <th
                  key={c.head}
                  scope="col"
                  aria-sort={order.column === i ? (order.down ? 'descending' : 'ascending') : 'none'}
                  className="pr-3"
                >
                  <button
                    type="button"
                    className="min-h-9 cursor-pointer whitespace-nowrap hover:text-ink"
                    onClick={() => setOrder({ column: i, down: order.column === i && !order.down })}
                  >
                    {c.head}
                    {order.column === i && (order.down ? ' ↓' : ' ↑')}
                  </button>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {shown.map((w) => (
              <tr key={w.id} className="border-b border-line">
                <th scope="row" className="py-1 pr-3 font-mono font-semibold">
                  {w.id}
                </th>
                <td className="py-1 pr-3 font-mono">
                  <End text={w.from} />
                </td>
                <td className="py-1 pr-3 font-mono">
                  <End text={w.to} />
                </td>
                <td className="py-1 pr-3">
                  <WireMark colour={w.colour} />
                </td>
                <td className="py-1 pr-3 whitespace-nowrap">{w.section}</td>
                <td className="py-1 pr-3 whitespace-nowrap">{w.length}</td>
                <td className="py-1 pr-3">{w.circuit}</td>
                <td className="py-1 pr-3">{w.role}</td>
                <td className="py-1 pr-3">{w.group}</td>
                <td className="py-1 whitespace-nowrap">{w.ohms}</td>
              </tr>
            ))}
          </tbody>
        </table>
        {shown.length === 0 && <p className="p-6 text-center text-soft">No wire fits “{find}”.</p>}
      </div>
    </section>
  );
}

/** An end; choosing a cavity rings it on its face. */
function End({ text }: { text: string }) {
  const [, setSearch] = useSearchParams();
  const [connector, cavity] = text.split(':');
  if (!cavity) return <span className="text-soft">{text}</span>;
  return (
    <button
      type="button"
      className="min-h-6 cursor-pointer whitespace-nowrap underline decoration-line hover:decoration-copper"
      onClick={() => setSearch({ at: connector ?? '', cavity })}
    >
      {text}
    </button>
  );
}
