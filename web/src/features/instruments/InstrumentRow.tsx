import { useMutation } from '@tanstack/react-query';
import { api, given, type Schemas } from '../../api/client';
import { Button } from '../../ui/Controls';
import { ErrorNotice } from '../../ui/Notice';
import { MarkShape } from '../../ui/Verdict';

/** One meter in a few lines, and a question put to it. */
export function InstrumentRow({
  meter,
  open,
  onOpen,
}: {
  meter: Schemas['InstrumentView'];
  open: boolean;
  /** Null for whoever may not change it. */
  onOpen: (() => void) | null;
}) {
  const ask = useMutation({
    mutationFn: () => given(api.POST('/api/instruments/{id}/try', { params: { path: { id: meter.id } } })),
  });
  return (
    <div className="space-y-2 p-4">
      <div className="flex flex-wrap items-center gap-3">
        <h2 className={`min-w-0 flex-1 text-xl font-bold ${meter.retired ? 'text-soft' : ''}`}>
          {meter.name}
          {meter.retired && <span className="font-normal"> · retired</span>}
        </h2>
        {meter.answers && (
          <Button changes onClick={() => ask.mutate()} disabled={ask.isPending}>
            {ask.isPending ? 'Asking …' : 'Try it'}
          </Button>
        )}
        {onOpen && (
          <Button aria-expanded={open} onClick={onOpen}>
            {open ? 'Close' : 'Change'}
          </Button>
        )}
      </div>
      <p>{meter.told}</p>
      <dl className="grid grid-cols-[auto_1fr] gap-x-4 sm:grid-cols-[auto_1fr_auto_1fr]">
        <dt className="text-soft">Answers at</dt>
        <dd className="font-mono">
          {meter.serial
            ? `${meter.serial.port}, ${meter.serial.baud} baud, ${meter.serial.lines ? `lines such as ${meter.serial.lines.form}` : 'SCPI'}`
            : meter.host === null
              ? 'nowhere: somebody reads it and types'
              : `${meter.host}:${meter.port ?? ''}`}
        </dd>
        <dt className="text-soft">Probes</dt>
        <dd>{meter.matrix ? 'switched by its matrix' : 'held by hand'}</dd>
        <dt className="text-soft">Calibrated</dt>
        <dd className={meter.overdue === null ? '' : 'font-bold text-fail'}>
          {meter.calibrated ?? 'not noted'}
          {meter.calibrationDue !== null && `, again by ${meter.calibrationDue}`}
          {meter.overdue !== null && ': overdue'}
        </dd>
        <dt className="text-soft">Last check</dt>
        <dd className={meter.lastCheckPassed === false ? 'font-bold text-fail' : ''}>
          {meter.lastCheck ?? 'none at a bench yet'}
        </dd>
      </dl>
      <div role="status">
        {ask.data && (
          <p className="flex items-start gap-2 border-t border-line pt-2">
            <span className="mt-1">
              <MarkShape mark={ask.data.problem === null ? 'pass' : 'fail'} size={18} />
            </span>
            {ask.data.problem ??
              (ask.data.line !== null ? (
                <span>
                  It sent <b className="font-mono">{ask.data.line}</b>, which is {ask.data.reads}.
                </span>
              ) : (
                <span>
                  It answers as <b>{ask.data.identity}</b> in {ask.data.milliseconds} ms.
                  {ask.data.loom !== null && ` It is a stand-in and carries the loom ${ask.data.loom}.`}
                </span>
              ))}
          </p>
        )}
      </div>
      <ErrorNotice error={ask.error} />
    </div>
  );
}
