import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { api, given } from '../../api/client';
import { Button } from '../../ui/Controls';
import { ErrorNotice, Notice } from '../../ui/Notice';
import { TableHead } from '../../ui/TableHead';
import { Points, filled } from './Points';

const asPoints = (rows: readonly [string, string][]) => filled(rows).map(([units, ohms]) => ({ units, ohms }));

/** A sender and the gauge it is to drive: how far the gauge would be off. */
export function GaugeTool() {
  const [sender, setSender] = useState<[string, string][]>([
    ['0', '3'],
    ['50', '80'],
    ['100', '180'],
  ]);
  const [gauge, setGauge] = useState<[string, string][]>([
    ['0', ''],
    ['50', ''],
    ['100', ''],
  ]);
  const match = useMutation({
    mutationFn: () =>
      given(api.POST('/api/sensors/gauge', { body: { sender: asPoints(sender), gauge: asPoints(gauge) } })),
  });
  return (
    <div className="space-y-5">
      <p className="max-w-3xl">
        A sender and its gauge are a pair. Enter what the sender measures, and the resistances that the gauge is made
        for.
      </p>
      <div className="grid max-w-3xl gap-6 sm:grid-cols-2">
        <Points label="Sender" heads={['What is so', 'Ω']} rows={sender} onChange={setSender} />
        <Points label="Gauge" heads={['What it shows', 'Ω']} rows={gauge} onChange={setGauge} />
      </div>
      <Button kind="main" onClick={() => match.mutate()}>
        Do they belong together?
      </Button>
      <ErrorNotice error={match.error} />
      {match.data && (
        <>
          <Notice tone={match.data.match ? 'good' : 'wrong'}>
            <p className="text-xl">{match.data.sentence}</p>
          </Notice>
          <table className="text-right font-mono">
            <TableHead names={['So it is', 'Sender', 'Gauge shows', 'Off by']} cell="pl-6" />
            <tbody>
              {match.data.readings.map((r) => (
                <tr key={r.true} className="border-b border-line">
                  <td className="pl-6">{r.true.toFixed(1)}</td>
                  <td className="pl-6">{r.ohms.toFixed(1)} Ω</td>
                  <td className="pl-6">{r.shown.toFixed(1)}</td>
                  <td className="pl-6">{(r.shown - r.true).toFixed(1)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
    </div>
  );
}
