import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { api, given } from '../../api/client';
import { Button, Field, Input, Select } from '../../ui/Controls';
import { ErrorNotice, Notice } from '../../ui/Notice';

type Row = { ohms: string; volts: string };

const pairsOf = (pins: number) => {
  const names = Array.from({ length: pins }, (_, i) => String(i + 1));
  return names.flatMap((red) => names.filter((black) => black !== red).map((black) => [red, black] as const));
};

/** A sensor that nobody knows: what its readings without power say. */
export function UnknownTool() {
  const [pins, setPins] = useState(2);
  const [rows, setRows] = useState<Record<string, Row>>({});
  const ask = useMutation({
    mutationFn: () =>
      given(
        api.POST('/api/sensors/unknown', {
          body: {
            readings: pairsOf(pins).flatMap(([red, black]) => {
              const row = rows[`${red} ${black}`];
              return row && (row.ohms || row.volts)
                ? [{ red, black, ohms: numberOf(row.ohms), diodeVolts: numberOf(row.volts) }]
                : [];
            }),
          },
        }),
      ),
  });
  const put = (pair: string, part: Partial<Row>) =>
    setRows((now) => ({ ...now, [pair]: { ohms: '', volts: '', ...now[pair], ...part } }));
  return (
    <div className="space-y-5">
      <Notice tone="wrong">
        Do not put power on any pin while its supply pin and its voltage are not known: 12 V on a 5 V sensor destroys
        it.
      </Notice>
      <div className="w-40">
        <Field label="Pins">
          <Select value={pins} onChange={(e) => setPins(Number(e.target.value))}>
            {[2, 3, 4].map((n) => (
              <option key={n}>{n}</option>
            ))}
          </Select>
        </Field>
      </div>
      <table className="text-left">
        <thead className="text-soft">
          <tr>
            {['Red on', 'Black on', 'Ω (OL: over range)', 'Diode range, V (OL)'].map((h) => (
              <th key={h} scope="col" className="pr-4">
                {h}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {pairsOf(pins).map(([red, black]) => {
            const pair = `${red} ${black}`;
            return (
              <tr key={pair}>
                <th scope="row" className="pr-4 font-mono font-semibold">
                  {red}
                </th>
                <td className="pr-4 font-mono">{black}</td>
                <td className="py-1 pr-4">
                  <Input
                    aria-label={`Ohms, red ${red}, black ${black}`}
                    value={rows[pair]?.ohms ?? ''}
                    onChange={(e) => put(pair, { ohms: e.target.value })}
                  />
                </td>
                <td className="py-1">
                  <Input
                    aria-label={`Diode volts, red ${red}, black ${black}`}
                    value={rows[pair]?.volts ?? ''}
                    onChange={(e) => put(pair, { volts: e.target.value })}
                  />
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <Button kind="main" onClick={() => ask.mutate()}>
        What may it be?
      </Button>
      <ErrorNotice error={ask.error} />
      {ask.data && (
        <ol aria-label="What it may be" className="max-w-3xl space-y-3">
          {ask.data.guesses.map((g) => (
            <li key={g.what} className="border-2 border-edge bg-card p-3">
              <p className="text-xl font-bold">{g.what}</p>
              <p>{g.because}</p>
              <p>
                <b>Next:</b> {g.next}
              </p>
            </li>
          ))}
        </ol>
      )}
    </div>
  );
}

/** A number, or null for over range. */
function numberOf(text: string): number | null {
  const number = Number(text.replace(',', '.'));
  return text.trim() === '' || !Number.isFinite(number) ? null : number;
}
