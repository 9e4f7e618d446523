import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { api, given } from '../../api/client';
import { Button } from '../../ui/Controls';
import { ErrorNotice } from '../../ui/Notice';
import { TriggerPlot } from './TriggerPlot';
import { useLive } from './useLive';
import type { Check } from './words';

/** What the controller measures, as it moves; and a log of its triggers. */
export function LivePanel({ job, controller, check }: { job: number; controller: string; check: Check | undefined }) {
  const { values, cut } = useLive(job, controller);
  const [shown, setShown] = useState(true);
  const log = useMutation({
    mutationFn: () =>
      given(api.GET('/api/jobs/{id}/power-up/log', { params: { path: { id: job }, query: { controller, ms: 2000 } } })),
  });
  return (
    <section aria-labelledby="live" className="border-2 border-edge bg-card">
      <header className="flex flex-wrap items-center gap-3 border-b-2 border-edge px-3 py-2">
        <h3 id="live" className="text-xl font-bold">
          Live
        </h3>
        <span className="text-soft">
          {cut
            ? 'The controller does not answer; it is asked again.'
            : values === null
              ? 'Waiting for the first values …'
              : values.length === 0
                ? 'The controller is asleep.'
                : `${values.length} channels of ${controller}`}
        </span>
        <span className="ml-auto flex gap-2">
          {check?.isLog && (
            <Button disabled={log.isPending} onClick={() => log.mutate()}>
              {log.isPending ? 'Logging …' : 'Show the triggers'}
            </Button>
          )}
          <Button aria-expanded={shown} onClick={() => setShown(!shown)}>
            {shown ? 'Hide' : 'Show'}
          </Button>
        </span>
      </header>
      {shown && values && values.length > 0 && (
        <dl className="grid gap-x-6 px-3 py-2 sm:grid-cols-2 xl:grid-cols-3">
          {values.map((v) => (
            <div
              key={v.pin}
              className={`flex items-baseline gap-2 border-b border-line py-0.5 ${check?.at.includes(v.pin) ? 'bg-copper/20 font-bold' : ''}`}
            >
              <dt className="min-w-0 flex-1 truncate" title={v.pin}>
                {v.channel}
              </dt>
              <dd className="font-mono whitespace-nowrap">{v.value !== null && `${v.value.toFixed(1)} ${v.unit}`}</dd>
              <dd className="w-16 text-right font-mono whitespace-nowrap">{v.volts.toFixed(2)} V</dd>
            </div>
          ))}
        </dl>
      )}
      <ErrorNotice error={log.error} />
      {log.data && <TriggerPlot log={log.data} />}
    </section>
  );
}
