/** The heads of a table's columns. */
export function TableHead({
  names,
  cell = 'pr-3',
  over,
}: {
  names: readonly string[];
  /** Room around each. */
  cell?: string;
  /** The ground it covers when rows scroll under it; none for a head that stays with its rows. */
  over?: 'bg-card' | 'bg-paper';
}) {
  return (
    <thead className={`text-soft ${over ? `sticky top-0 ${over}` : ''}`}>
      <tr className="border-b-2 border-edge">
        {names.map((name) => (
          <th key={name} scope="col" className={cell}>
            {name}
          </th>
        ))}
      </tr>
    </thead>
  );
}
