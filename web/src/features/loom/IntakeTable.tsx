import { useRef, useState, type KeyboardEvent } from 'react';
import type { Schemas } from '../../api/client';
import { Button, Input, Select } from '../../ui/Controls';
import { Scroll } from '../../ui/Scroll';
import { meanings, units, unitWords } from './meanings';
import { withCell, withRow, type Said } from './said';

/** Columns whose meaning takes more words. */
const wide: readonly Schemas['Meaning'][] = ['end', 'other-end', 'other-connector', 'signal'];

const shapes: Record<Schemas['TableShape'], string> = {
  wires: 'a row for each wire',
  chart: 'a row for each pin',
  cross: 'pins down and across, marks where metal joins them',
};

const nothing: Schemas['TablePartView'] = {
  sheet: '',
  title: '',
  rows: 0,
  problems: 0,
  sample: [],
  struck: 0,
  left: [],
};

/** One table of a stranger's file: what each column holds, said anew by choice; cells corrected and rows left out in place. */
export function IntakeTable({
  table,
  problems,
  said,
  onSay,
  onKeep,
}: {
  table: Schemas['TablesView'];
  problems: readonly Schemas['IntakeProblem'][];
  said: Said;
  onSay: (said: Said) => void;
  /** Keeps how its columns are read for the next file of this shape. */
  onKeep: (table: Schemas['TablesView'], name: string) => void;
}) {
  const [naming, setNaming] = useState(false);
  const [name, setName] = useState(table.remembered ?? '');
  const [chosen, setChosen] = useState<number | null>(null);
  // Until somebody chooses, the first table that has problems is shown.
  const troubled = table.parts.findIndex((p) => p.problems > 0);
  const at = Math.min(chosen ?? Math.max(0, troubled), table.parts.length - 1);
  const part = table.parts[at] ?? nothing;
  const titles = [...new Set(table.parts.map((p) => p.title))];
  const title = titles.slice(0, 3).join(', ') + (titles.length > 3 ? ` and ${titles.length - 3} more` : '');
  const wrong = new Map(
    problems.filter((p) => p.sheet === part.sheet && p.row > 0).map((p) => [`${p.row} ${p.cell}`, p.message]),
  );
  const say = (key: string, meaning: Schemas['Meaning'], unit: string | null) =>
    onSay({
      ...said,
      columns: { ...said.columns, [key]: { meaning, unit: units[meaning]?.includes(unit ?? '') ? unit : null } },
    });
  return (
    <section aria-label={`Table ${title}`} className="space-y-2">
      <h3 className="text-lg font-bold">
        {title}{' '}
        <span className="font-normal text-soft">
          {table.rows} rows, {shapes[table.shape]}
        </span>
      </h3>
      {table.parts.length > 1 && (
        <label className="flex flex-wrap items-center gap-2">
          <span className="font-bold">Rows of</span>
          <Select className="max-w-full" value={at} onChange={(e) => setChosen(Number(e.target.value))}>
            {table.parts.map((p, i) => (
              <option key={`${i} ${p.title}`} value={i}>
                {p.title} · {p.rows === 1 ? '1 row' : `${p.rows} rows`}
                {p.problems > 0 && ` · ${p.problems === 1 ? '1 with a problem' : `${p.problems} with problems`}`}
              </option>
            ))}
          </Select>
        </label>
      )}
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
                      onChange={(e) => say(c.key, e.target.value as Schemas['Meaning'], c.unit)}
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
                        onChange={(e) => say(c.key, c.meaning, e.target.value)}
                      >
                        {units[c.meaning]?.map((u) => (
                          <option key={u} value={u}>
                            {unitWords(u)}
                          </option>
                        ))}
                      </select>
                    )}
                    <span
                      className="block text-sm font-normal text-soft"
                      title={c.samples.length > 0 ? `Told by ${c.samples.join(', ')}` : undefined}
                    >
                      {c.probability >= 1 ? 'sure' : `${Math.round(c.probability * 100)} % sure`}
                    </span>
                  </th>
                ))}
              </tr>
            </thead>
            <Rows key={at} columns={table.columns} part={part} wrong={wrong} said={said} onSay={onSay} />
          </table>
        </Scroll>
      )}
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2 text-soft">
        {part.rows > part.sample.length && table.columns.length > 0 && said.rows === undefined && (
          <button type="button" className="min-h-8 underline" onClick={() => onSay({ ...said, rows: 500 })}>
            Show more rows
          </button>
        )}
        {table.remembered !== null && (
          <span>
            Read as the shop reads <b>{table.remembered}</b>.
          </span>
        )}
        {table.columns.length > 0 && !naming && (
          <button type="button" className="min-h-8 underline" onClick={() => setNaming(true)}>
            Keep how these columns are read
          </button>
        )}
        {naming && (
          <form
            className="flex flex-wrap items-center gap-2"
            onSubmit={(e) => {
              e.preventDefault();
              onKeep(table, name);
              setNaming(false);
            }}
          >
            <Input
              aria-label="Name for tables with these headings"
              className="max-w-60"
              maxLength={60}
              required
              value={name}
              onChange={(e) => setName(e.target.value)}
            />
            <Button changes type="submit">
              Keep it
            </Button>
          </form>
        )}
      </div>
      {part.struck > 0 && (
        <details className="text-soft">
          <summary className="min-h-8 cursor-pointer">
            {part.struck === 1 ? '1 row' : `${part.struck} rows`} left out: titles, totals, remarks, and what you left
            out
            {part.struck > part.left.length && `; the first ${part.left.length}`}
          </summary>
          <ul aria-label={`Left out of ${part.title}`}>
            {part.left.map((row) => (
              <li key={row.number} className="flex items-baseline gap-3 border-t border-line py-0.5">
                <button
                  type="button"
                  className="min-h-8 shrink-0 underline"
                  onClick={() => onSay(withRow(said, part.sheet, row.number, false))}
                >
                  Bring row {row.number} back
                </button>
                <span className="truncate">{row.cells.filter(Boolean).join(' · ')}</span>
              </li>
            ))}
          </ul>
        </details>
      )}
    </section>
  );
}

/** Its rows: a cell opens by a click or Enter, arrows go from cell to cell. */
function Rows({
  columns,
  part,
  wrong,
  said,
  onSay,
}: {
  columns: readonly Schemas['ColumnView'][];
  part: Schemas['TablePartView'];
  wrong: ReadonlyMap<string, string>;
  said: Said;
  onSay: (said: Said) => void;
}) {
  const body = useRef<HTMLTableSectionElement>(null);
  const [open, setOpen] = useState<{ row: number; column: number } | null>(null);
  const move = (event: KeyboardEvent, row: number, column: number) => {
    const step = { ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1] }[event.key];
    if (!step) return;
    event.preventDefault();
    body.current
      ?.querySelector<HTMLElement>(`[data-cell="${row + (step[0] ?? 0)} ${column + (step[1] ?? 0)}"]`)
      ?.focus();
  };
  return (
    <tbody ref={body}>
      {part.sample.map((row, r) => (
        <tr key={row.number} className="border-t border-line">
          <td className="pr-2 text-sm text-soft">
            <button
              type="button"
              title={`Leave row ${row.number} out`}
              aria-label={`Leave row ${row.number} out`}
              tabIndex={-1}
              className="min-h-8 min-w-8 text-left hover:line-through"
              onClick={() => onSay(withRow(said, part.sheet, row.number, true))}
            >
              {row.number}
            </button>
          </td>
          {columns.map((c, i) => {
            const why = wrong.get(`${row.number} ${i}`);
            const text = row.cells[i] ?? '';
            return (
              <td
                key={c.key}
                title={why}
                className={`max-w-56 ${why ? 'bg-fail/15 font-bold text-fail' : c.meaning === 'ignore' ? 'text-soft' : ''}`}
              >
                {open?.row === r && open.column === i ? (
                  <input
                    aria-label={`${c.heading || c.key} in row ${row.number} should read`}
                    // The person has just asked to write here.
                    // eslint-disable-next-line jsx-a11y/no-autofocus
                    autoFocus
                    maxLength={200}
                    defaultValue={text}
                    className="min-h-8 w-full border-2 border-copper bg-card px-1 font-normal text-ink"
                    onFocus={(e) => e.currentTarget.select()}
                    onBlur={() => setOpen(null)}
                    onKeyDown={(e) => {
                      if (e.key === 'Escape') setOpen(null);
                      if (e.key !== 'Enter') return;
                      e.preventDefault();
                      setOpen(null);
                      onSay(withCell(said, part.sheet, row.number, i, e.currentTarget.value));
                    }}
                  />
                ) : (
                  <button
                    type="button"
                    data-cell={`${r} ${i}`}
                    tabIndex={why || (r === 0 && i === 0) ? 0 : -1}
                    aria-label={text ? undefined : `${c.heading || c.key} in row ${row.number}, empty`}
                    className="block min-h-8 w-full truncate pr-2 text-left"
                    onKeyDown={(e) => move(e, r, i)}
                    onClick={() => setOpen({ row: r, column: i })}
                  >
                    {text}
                  </button>
                )}
              </td>
            );
          })}
        </tr>
      ))}
    </tbody>
  );
}
