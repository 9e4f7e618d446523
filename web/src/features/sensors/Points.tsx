import { Button, Input } from '../../ui/Controls';

/** Rows of two numbers, as text while they are typed; an empty one always follows. */
export function Points({
  label,
  heads,
  rows,
  onChange,
}: {
  label: string;
  heads: [string, string];
  rows: readonly [string, string][];
  onChange: (rows: [string, string][]) => void;
}) {
  const put = (at: number, side: 0 | 1, text: string) =>
    onChange(rows.map((row, i): [string, string] => (i !== at ? row : side === 0 ? [text, row[1]] : [row[0], text])));
  return (
    <fieldset className="space-y-1">
      <legend className="mb-1 font-bold">{label}</legend>
      <div className="grid grid-cols-2 gap-2 text-sm text-soft">
        <span>{heads[0]}</span>
        <span>{heads[1]}</span>
      </div>
      {rows.map((row, i) => (
        <div key={i} className="grid grid-cols-2 gap-2">
          {([0, 1] as const).map((side) => (
            <Input
              key={side}
              inputMode="decimal"
              aria-label={`${label}, ${heads[side]}, row ${i + 1}`}
              value={row[side]}
              onChange={(e) => put(i, side, e.target.value)}
            />
          ))}
        </div>
      ))}
      <Button onClick={() => onChange([...rows, ['', '']])}>One more</Button>
    </fieldset>
  );
}

/** The rows that are filled in; a comma counts as a point. */
export function filled(rows: readonly [string, string][]): [number, number][] {
  const number = (text: string) => (text.trim() === '' ? NaN : Number(text.replace(',', '.')));
  return rows
    .map(([a, b]): [number, number] => [number(a), number(b)])
    .filter(([a, b]) => Number.isFinite(a) && Number.isFinite(b));
}
