import { useState } from 'react';
import { uuidv7 } from '../../api/uuid';
import { Button, Field, Input, Select } from '../../ui/Controls';
import { ErrorNotice } from '../../ui/Notice';
import { Sheet } from '../../ui/Sheet';
import type { Schemas } from '../../api/client';
import type { usePowerUp } from './usePowerUp';
import { schoolWords, type View } from './words';

type Fitting = Schemas['Fitting'];

/** What is really fitted on this bench, and where it stands. */
export function BenchSheet({
  view,
  power,
  onClose,
}: {
  view: View;
  power: ReturnType<typeof usePowerUp>;
  onClose: () => void;
}) {
  const [school, setSchool] = useState(view.school);
  const [find, setFind] = useState('');
  const [key] = useState(uuidv7);
  const [changed, setChanged] = useState<Record<string, Fitting>>(() =>
    Object.fromEntries(view.devices.filter((d) => d.fitting.kind !== 'real').map((d) => [d.ref, d.fitting])),
  );
  const shown = view.devices.filter((d) => d.title.toLowerCase().includes(find.toLowerCase()));
  const put = (ref: string, to: Fitting) => setChanged({ ...changed, [ref]: to });
  return (
    <Sheet title="What is fitted on this bench" onClose={onClose}>
      <form
        className="space-y-4"
        onSubmit={(e) => {
          e.preventDefault();
          const wrong = Object.values(changed).some(
            (f) => (f.kind === 'resistor' && !(f.ohm > 0)) || (f.kind === 'lamp' && !(f.watts > 0)),
          );
          if (!wrong) power.begin.mutate({ key, school, fitted: changed }, { onSuccess: onClose });
        }}
      >
        <Field label="First power">
          <Select value={school} onChange={(e) => setSchool(e.target.value)}>
            {view.schools.map((s) => (
              <option key={s} value={s}>
                {schoolWords[s] ?? s}
              </option>
            ))}
          </Select>
        </Field>
        <Field label="Find a device">
          <Input value={find} onChange={(e) => setFind(e.target.value)} />
        </Field>
        <ul className="max-h-80 overflow-y-auto border-2 border-edge bg-card">
          {shown.map((d) => {
            const now = changed[d.ref] ?? { kind: 'real' };
            return (
              <li
                key={d.ref}
                className="grid grid-cols-[1fr_auto_6rem] items-center gap-2 border-b border-line px-3 py-1 last:border-0"
              >
                <span>{d.title}</span>
                <Select
                  aria-label={`At the plug of ${d.title}`}
                  className="w-auto"
                  value={now.kind}
                  onChange={(e) => put(d.ref, fresh(e.target.value))}
                >
                  <option value="real">itself</option>
                  <option value="nothing">nothing</option>
                  {d.takesStandIn && <option value="lamp">a lamp</option>}
                  {d.takesStandIn && <option value="resistor">a resistor</option>}
                </Select>
                {now.kind === 'lamp' ? (
                  <Input
                    aria-label={`Watts of the lamp at ${d.title}`}
                    inputMode="decimal"
                    value={String(now.watts)}
                    onChange={(e) => put(d.ref, { kind: 'lamp', watts: Number(e.target.value.replace(',', '.')) || 0 })}
                  />
                ) : now.kind === 'resistor' ? (
                  <Input
                    aria-label={`Ohms of the resistor at ${d.title}`}
                    inputMode="decimal"
                    value={String(now.ohm)}
                    onChange={(e) =>
                      put(d.ref, { kind: 'resistor', ohm: Number(e.target.value.replace(',', '.')) || 0 })
                    }
                  />
                ) : (
                  <span />
                )}
              </li>
            );
          })}
        </ul>
        <ErrorNotice error={power.begin.error} />
        <div className="flex gap-3">
          <Button changes kind="main" type="submit" disabled={power.begin.isPending}>
            {power.begin.isPending
              ? 'Working out the checks …'
              : view.begun
                ? 'This is fitted now'
                : 'Begin the power-up'}
          </Button>
          <Button onClick={onClose}>Back</Button>
        </div>
      </form>
    </Sheet>
  );
}

const fresh = (kind: string): Fitting =>
  kind === 'lamp'
    ? { kind: 'lamp', watts: 21 }
    : kind === 'resistor'
      ? { kind: 'resistor', ohm: 12 }
      : kind === 'nothing'
        ? { kind: 'nothing' }
        : { kind: 'real' };
