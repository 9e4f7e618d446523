import { useState } from 'react';
import type { Schemas } from '../../api/client';
import { Button, Field, Input } from '../../ui/Controls';
import { Notice } from '../../ui/Notice';
import { Scroll } from '../../ui/Scroll';

export type Mapping = Record<string, { meaning: Schemas['Meaning']; unit?: string | null; of?: string | null }>;

const meanings: readonly [Schemas['Meaning'], string][] = [
  ['ignore', 'nothing'],
  ['wire', 'wire number'],
  ['connector', 'connector'],
  ['pin', 'pin'],
  ['end', 'connector and pin'],
  ['other-connector', 'other connector'],
  ['other-pin', 'other pin'],
  ['other-end', 'other connector and pin'],
  ['colour', 'colour'],
  ['section', 'section'],
  ['length', 'length'],
  ['signal', 'function'],
  ['role', 'role'],
  ['twisted', 'twisted with'],
  ['splice', 'splice'],
  ['note', 'note'],
];

const units: Partial<Record<Schemas['Meaning'], readonly string[]>> = {
  length: ['mm', 'cm', 'm', 'in', 'ft'],
  section: ['mm2', 'awg'],
};

/** Columns whose meaning takes more words. */
const wide: readonly Schemas['Meaning'][] = ['end', 'other-end', 'other-connector', 'signal'];

const shapes: Record<Schemas['TableShape'], string> = {
  wires: 'a row for each wire',
  chart: 'a row for each pin',
  cross: 'pins down and across, marks where metal joins them',
};

/** How a stranger's tables were understood, beside the loom that comes out of them; what is wrong is said of each column anew. */
export function IntakePreview({
  intake,
  mapping,
  onMap,
  onName,
  busy,
}: {
  intake: Schemas['IntakeView'];
  mapping: Mapping;
  onMap: (mapping: Mapping) => void;
  onName: (connector: string) => void;
  busy: boolean;
}) {
  const [name, setName] = useState('');
  return (
    <div
      className="grid grid-cols-[minmax(0,1fr)] items-start gap-5 lg:grid-cols-[minmax(0,2fr)_minmax(17rem,1fr)]"
      aria-busy={busy}
    >
      <div className="space-y-5">
        {intake.tables.map((table, i) => (
          <Columns key={i} table={table} problems={intake.problems} mapping={mapping} onMap={onMap} />
        ))}
      </div>
      <section aria-label="What comes out" className="space-y-3 border-2 border-edge bg-card p-4">
        <h3 className="text-xl font-bold">What comes out</h3>
        <p className="text-lg" role="status">
          {intake.wires === 0
            ? 'No wire yet.'
            : `${intake.connectors.length} connectors, ${intake.wires} wires${intake.splices.length > 0 ? `, ${intake.splices.length} splices` : ''}, ${intake.nets} circuits.`}
        </p>
        {intake.asks && (
          <form
            className="space-y-2"
            onSubmit={(e) => {
              e.preventDefault();
              onName(name);
            }}
          >
            <Field
              label="Connector of these pins"
              hint="The file has the pins of one connector and does not say which."
            >
              <Input value={name} onChange={(e) => setName(e.target.value)} maxLength={40} required />
            </Field>
            <Button type="submit">Name it</Button>
          </form>
        )}
        {intake.connectors.length > 0 && (
          <Scroll label="All connectors" className="max-h-56">
            <ul aria-label="Connectors" className="grid grid-cols-[repeat(auto-fill,minmax(8rem,1fr))] gap-x-4">
              {intake.connectors.map((c) => (
                <li key={c.ref} className="border-t border-line py-0.5">
                  <b>{c.ref}</b>{' '}
                  <span className="text-soft">
                    {c.pins} {c.pins === 1 ? 'pin' : 'pins'}
                  </span>
                </li>
              ))}
            </ul>
          </Scroll>
        )}
        {intake.guessed.length > 0 && (
          <div>
            <h4 className="font-bold">Taken for granted</h4>
            <ul className="list-disc space-y-1 pl-5">
              {intake.guessed.map((g, i) => (
                <li key={i}>{g}</li>
              ))}
            </ul>
          </div>
        )}
        {intake.problems.length > 0 && (
          <Notice tone="mind">
            <p className="font-bold">
              {intake.problems.length === 1 ? '1 place to look at' : `${intake.problems.length} places to look at`}
            </p>
            <Scroll label="All places to look at" className="mt-1 max-h-72">
              <ol aria-label="Places to look at" className="space-y-1">
                {intake.problems.map((p, i) => (
                  <li key={i} className="border-t border-line pt-1">
                    <span className="font-mono text-sm">
                      {[p.sheet, p.row > 0 ? `row ${p.row}` : '', p.column].filter(Boolean).join(', ') || 'whole file'}
                    </span>
                    <br />
                    {p.message}
                  </li>
                ))}
              </ol>
            </Scroll>
          </Notice>
        )}
      </section>
    </div>
  );
}

function Columns({
  table,
  problems,
  mapping,
  onMap,
}: {
  table: Schemas['TablesView'];
  problems: readonly Schemas['IntakeProblem'][];
  mapping: Mapping;
  onMap: (mapping: Mapping) => void;
}) {
  const title =
    table.sheets.slice(0, 3).join(', ') + (table.sheets.length > 3 ? ` and ${table.sheets.length - 3} more` : '');
  const wrong = new Map(
    problems.filter((p) => table.sheets[0]?.split(': ')[0] === p.sheet).map((p) => [`${p.row} ${p.column}`, p.message]),
  );
  const said = (key: string, meaning: Schemas['Meaning'], unit: string | null) =>
    onMap({ ...mapping, [key]: { meaning, unit: units[meaning]?.includes(unit ?? '') ? unit : null } });
  return (
    <section aria-label={`Table ${title}`} className="space-y-2">
      <h3 className="text-lg font-bold">
        {title}{' '}
        <span className="font-normal text-soft">
          {table.rows} rows, {shapes[table.shape]}
          {table.struck > 0 ? `; ${table.struck} left out as titles, totals or remarks` : ''}
        </span>
      </h3>
      {table.columns.length > 0 && (
        <Scroll label={`Columns of ${title}`}>
          <table className="w-full border-collapse text-left">
            <thead>
              <tr className="align-top">
                <th className="pr-2 text-sm text-soft">row</th>
                {table.columns.map((c) => (
                  <th
                    key={c.key}
                    className={`border-b-2 border-edge pr-2 pb-1 ${wide.includes(c.meaning) ? 'min-w-44' : 'min-w-32'}`}
                  >
                    <span className="block">{c.heading || c.key}</span>
                    <select
                      aria-label={`${c.heading || c.key} holds`}
                      className={`min-h-11 w-full rounded-sm border-2 bg-card px-1 font-normal text-ink ${c.probability < 0.7 && c.meaning !== 'ignore' ? 'border-copper' : 'border-edge'}`}
                      value={c.meaning}
                      onChange={(e) => said(c.key, e.target.value as Schemas['Meaning'], c.unit)}
                    >
                      {meanings.map(([meaning, words]) => (
                        <option key={meaning} value={meaning}>
                          {words}
                          {meaning === c.meaning && c.of ? ` of ${c.of}` : ''}
                        </option>
                      ))}
                    </select>
                    {units[c.meaning] && (
                      <select
                        aria-label={`Unit of ${c.heading || c.key}`}
                        className="mt-1 min-h-11 w-full rounded-sm border-2 border-edge bg-card px-1 font-normal text-ink"
                        value={c.unit ?? ''}
                        onChange={(e) => said(c.key, c.meaning, e.target.value)}
                      >
                        {units[c.meaning]?.map((u) => (
                          <option key={u} value={u}>
                            {u === 'mm2' ? 'mm²' : u === 'awg' ? 'AWG' : u}
                          </option>
                        ))}
                      </select>
                    )}
                    <span className="block text-sm font-normal text-soft">
                      {c.probability >= 1 ? 'sure' : `${Math.round(c.probability * 100)} % sure`}
                    </span>
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {table.sample.map((row) => (
                <tr key={row.number} className="border-t border-line">
                  <td className="pr-2 text-sm text-soft">{row.number}</td>
                  {table.columns.map((c, i) => {
                    const why = wrong.get(`${row.number} ${c.heading}`);
                    return (
                      <td
                        key={c.key}
                        title={why}
                        className={`max-w-56 truncate py-0.5 pr-2 ${why ? 'bg-fail/15 font-bold text-fail' : c.meaning === 'ignore' ? 'text-soft' : ''}`}
                      >
                        {row.cells[i] ?? ''}
                      </td>
                    );
                  })}
                </tr>
              ))}
            </tbody>
          </table>
        </Scroll>
      )}
    </section>
  );
}
