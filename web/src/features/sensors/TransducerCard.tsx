import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { api, given, type Schemas } from '../../api/client';
import { Button, Field, Input } from '../../ui/Controls';
import { ErrorNotice } from '../../ui/Notice';

/** A transducer: its two points, and the quantity for a voltage. */
export function TransducerCard({ scale }: { scale: Schemas['TransducerScale'] | null }) {
  const [volts, setVolts] = useState('');
  const read = useMutation({
    mutationFn: (of: Schemas['TransducerScale']) =>
      given(api.POST('/api/sensors/units', { body: { scale: of, volts: Number(volts.replace(',', '.')) } })),
  });
  if (!scale)
    return <p className="text-lg">The loom file gives no scale for this one: only its three wires are known.</p>;
  return (
    <div className="space-y-4">
      <p className="text-lg">
        {scale.lowVolts} V is {scale.lowUnits} {scale.unit}; {scale.highVolts} V is {scale.highUnits} {scale.unit}; a
        straight line between.
      </p>
      <form
        className="flex flex-wrap items-end gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          read.mutate(scale);
        }}
      >
        <div className="w-44">
          <Field label="Signal, V">
            <Input inputMode="decimal" value={volts} onChange={(e) => setVolts(e.target.value)} />
          </Field>
        </div>
        <Button type="submit" kind="main">
          How much?
        </Button>
        {read.data && <p className="min-h-11 text-2xl font-bold">{read.data.sentence}</p>}
      </form>
      <ErrorNotice error={read.error} />
    </div>
  );
}
