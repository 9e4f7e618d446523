import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { uuidv7 } from '../../api/uuid';
import { Button } from '../../ui/Controls';
import { ErrorNotice, Loading, Notice } from '../../ui/Notice';
import { readTyped } from '../../ui/readings';
import { Sheet } from '../../ui/Sheet';
import { MarkShape } from '../../ui/Verdict';
import { followRun } from './followRun';

type Check = Schemas['CareCheckView'];

const stands: Record<string, { mark: 'pass' | 'fail' | 'cant-tell' | 'not-tested'; words: string }> = {
  good: { mark: 'pass', words: 'right' },
  open: { mark: 'not-tested', words: 'not made yet' },
  once: { mark: 'cant-tell', words: 'failed once: repeat it' },
  out: { mark: 'fail', words: 'not right' },
};

/** The meter held against something that is known: both probes together, apart, and across a link. */
export function CareDialog({ run, onClose }: { run: Schemas['RunView']; onClose: () => void }) {
  const client = useQueryClient();
  const care = useQuery({
    queryKey: keys.care(run.jobId, run.id),
    queryFn: () => given(api.GET('/api/runs/{id}/care', { params: { path: { id: run.id } } })),
  });
  const check = useMutation({
    mutationFn: (body: Schemas['CareRequest']) =>
      given(api.POST('/api/runs/{id}/care', { params: { path: { id: run.id } }, body })),
    onSuccess: async (answer) => {
      client.setQueryData(keys.care(run.jobId, run.id), answer.care);
      await followRun(client, run.jobId, run.id, answer.lastEvent);
    },
  });
  const byInstrument = useMutation({
    mutationFn: async () => {
      for (const { check: kind } of care.data?.checks ?? []) {
        await check.mutateAsync({ key: uuidv7(), check: kind, overRange: false, byInstrument: true });
      }
    },
  });
  return (
    <Sheet title="Is the meter right?" onClose={onClose}>
      {care.isPending && <Loading what="the checks" />}
      {care.data?.note && <Notice tone="mind">{care.data.note}</Notice>}
      <ul className="mt-3 space-y-3">
        {care.data?.checks.map((c) => (
          <CheckRow
            key={c.check}
            check={c}
            busy={check.isPending}
            onTake={(value) =>
              check.mutate({
                key: uuidv7(),
                check: c.check,
                ohms: value,
                overRange: value === null,
                byInstrument: false,
              })
            }
          />
        ))}
      </ul>
      <ErrorNotice error={care.error ?? byInstrument.error ?? check.error} />
      <div className="mt-4 flex flex-wrap gap-3">
        {care.data?.byItself && (
          <Button
            kind="main"
            changes
            className="min-h-14"
            disabled={byInstrument.isPending}
            onClick={() => byInstrument.mutate()}
          >
            {byInstrument.isPending ? 'Checking …' : 'The instrument makes all three'}
          </Button>
        )}
        <Button className="min-h-14" onClick={onClose}>
          Back to the bench
        </Button>
      </div>
    </Sheet>
  );
}

function CheckRow({
  check,
  busy,
  onTake,
}: {
  check: Check;
  busy: boolean;
  /** Null for over range. */
  onTake: (value: number | null) => void;
}) {
  const [typed, setTyped] = useState('');
  const field = useRef<HTMLInputElement>(null);
  const value = readTyped(typed, 'ohm');
  const stand = stands[check.stands] ?? { mark: 'not-tested' as const, words: check.stands };
  return (
    <li className="grid grid-cols-[auto_1fr] gap-x-3 border-2 border-edge bg-card p-3">
      <MarkShape mark={stand.mark} size={32} />
      <p className="text-xl">
        <b>{check.title}</b>: {stand.words}
        {check.last && <span className="text-soft"> ({check.last})</span>}
      </p>
      <p className="col-start-2">
        {check.do} It must show <b className="whitespace-nowrap">{check.must}</b>.
      </p>
      <form
        className="col-start-2 mt-2 flex flex-wrap gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          if (value === undefined) return;
          onTake(value);
          setTyped('');
          field.current?.focus();
        }}
      >
        <input
          ref={field}
          aria-label={`${check.title}: what the meter shows`}
          className="min-h-11 w-36 rounded-sm border-2 border-edge bg-paper px-3 font-mono placeholder:text-soft"
          placeholder="0.2 or OL"
          autoComplete="off"
          value={typed}
          onChange={(e) => setTyped(e.target.value)}
        />
        <Button type="submit" changes disabled={busy || value === undefined}>
          It shows this
        </Button>
      </form>
    </li>
  );
}
