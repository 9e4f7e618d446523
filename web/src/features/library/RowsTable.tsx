import { Button, Input } from '../../ui/Controls';
import { TableHead } from '../../ui/TableHead';
import { tables, type Row, type TableName } from './figures';

/** One of the tables of the limits, row by row. */
export function RowsTable({
  name,
  rows,
  lead,
  wrong,
  onChange,
}: {
  name: TableName;
  rows: readonly Row[];
  lead: boolean;
  /** What is wrong at a place; undefined when nothing is. */
  wrong: (at: string) => string | undefined;
  onChange: (rows: Row[]) => void;
}) {
  const { at, title, of, value, fields, add, hint } = tables[name];
  return (
    <section aria-label={title} className="space-y-2">
      <h2 className="text-xl font-bold">{title}</h2>
      <p className="text-soft">{hint}</p>
      <table className="w-full max-w-md text-left">
        <TableHead names={[of, value, 'Take out']} />
        <tbody>
          {rows.map((r, i) => (
            <tr key={i}>
              {[of, value].map((column, f) => (
                <td key={column} className="py-0.5 pr-3">
                  <Input
                    aria-label={`${title}, ${column}, row ${i + 1}`}
                    inputMode="decimal"
                    readOnly={!lead}
                    value={r[f]}
                    onChange={(e) =>
                      onChange(
                        rows.map((x, k) => (k !== i ? x : f === 0 ? [e.target.value, x[1]] : [x[0], e.target.value])),
                      )
                    }
                  />
                </td>
              ))}
              <td>
                {lead && (
                  <Button
                    aria-label={`${title}: take row ${i + 1} out`}
                    onClick={() => onChange(rows.filter((_, k) => k !== i))}
                  >
                    −
                  </Button>
                )}
                {['', ...fields.map((f) => `/${f}`)].map((field) => {
                  const said = wrong(`${at}/${i}${field}`);
                  return (
                    said && (
                      <span key={field} className="block font-bold text-fail">
                        {said}
                      </span>
                    )
                  );
                })}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {wrong(at) && <p className="font-bold text-fail">{wrong(at)}</p>}
      {lead && <Button onClick={() => onChange([...rows, ['', '']])}>{add}</Button>}
    </section>
  );
}
