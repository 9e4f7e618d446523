import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { api, given, type Schemas } from '../../api/client';
import { Button, Field, Input } from '../../ui/Controls';
import { ErrorNotice, Notice } from '../../ui/Notice';
import { Scroll } from '../../ui/Scroll';
import { Curve } from './Curve';

/** An NTC: its curve, its table, and the temperature for a reading. */
export function NtcCard({ ntc }: { ntc: Schemas['NtcView'] }) {
  const [ohms, setOhms] = useState('');
  const read = useMutation({
    mutationFn: () =>
      given(
        api.POST('/api/sensors/temperature', { body: { points: ntc.points, ohms: Number(ohms.replace(',', '.')) } }),
      ),
  });
  if (ntc.wrong) return <Notice tone="wrong">{ntc.wrong}</Notice>;
  const celsius = read.data?.celsius;
  return (
    <div className="grid gap-6 lg:grid-cols-[1fr_17rem]">
      <div className="space-y-4">
        <Curve
          ntc={ntc}
          reading={typeof celsius === 'number' ? { celsius, ohms: Number(ohms.replace(',', '.')) } : undefined}
        />
        <form
          className="flex flex-wrap items-end gap-3"
          onSubmit={(e) => {
            e.preventDefault();
            read.mutate();
          }}
        >
          <div className="w-44">
            <Field label="Reading, Ω">
              <Input inputMode="decimal" value={ohms} onChange={(e) => setOhms(e.target.value)} />
            </Field>
          </div>
          <Button type="submit" kind="main">
            What temperature?
          </Button>
          {read.data && <p className="min-h-11 text-2xl font-bold">{read.data.sentence}</p>}
        </form>
        <ErrorNotice error={read.error} />
        <p className="text-soft">
          β {ntc.beta.toFixed(0)} K. 1/T = A + B·ln R + C·(ln R)³ with A {ntc.a.toExponential(5)}, B{' '}
          {ntc.b.toExponential(5)}, C {ntc.c.toExponential(5)}; T in kelvin. Rings are the points it was fitted to.
        </p>
      </div>
      <Scroll label="Table" className="max-h-112">
        <table className="w-full">
          <thead className="sticky top-0 bg-paper text-soft">
            <tr className="border-b-2 border-edge text-right">
              <th scope="col">°C</th>
              <th scope="col">Reads</th>
            </tr>
          </thead>
          <tbody className="font-mono">
            {ntc.table.map((t) => (
              <tr key={t.celsius} className="border-b border-line text-right">
                <td>{t.celsius}</td>
                <td>{t.ohmsText}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Scroll>
    </div>
  );
}
