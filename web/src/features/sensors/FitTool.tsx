import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { api, given } from '../../api/client';
import { Button } from '../../ui/Controls';
import { ErrorNotice } from '../../ui/Notice';
import { NtcCard } from './NtcCard';
import { Points, filled } from './Points';

/** Three temperatures and resistances of a sensor that no sheet knows give its curve. */
export function FitTool() {
  const [rows, setRows] = useState<[string, string][]>([
    ['', ''],
    ['', ''],
    ['', ''],
  ]);
  const fit = useMutation({
    mutationFn: () =>
      given(
        api.POST('/api/sensors/fit', { body: { points: filled(rows).map(([celsius, ohms]) => ({ celsius, ohms })) } }),
      ),
  });
  return (
    <div className="space-y-5">
      <p className="max-w-3xl">
        Measure the sensor in ice water, at room temperature and in hot water, with a thermometer beside it. Three
        points are enough; more are fitted.
      </p>
      <div className="max-w-md space-y-3">
        <Points label="Measured" heads={['°C', 'Ω']} rows={rows} onChange={setRows} />
        <Button kind="main" onClick={() => fit.mutate()}>
          Fit the curve
        </Button>
      </div>
      <ErrorNotice error={fit.error} />
      {fit.data && <NtcCard key={JSON.stringify(fit.data.points)} ntc={fit.data} />}
    </div>
  );
}
