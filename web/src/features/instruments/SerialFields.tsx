import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { Button, Field, Input, Select, TextArea } from '../../ui/Controls';
import { ErrorNotice } from '../../ui/Notice';
import { MarkShape } from '../../ui/Verdict';
import { patternOf, type WrittenSerial } from './written';

const parities: [Schemas['SerialParity'], string][] = [
  ['none', 'no parity'],
  ['even', 'even parity'],
  ['odd', 'odd parity'],
];

const ends: [Schemas['LineEnd'], string][] = [
  ['lf', 'line feed'],
  ['cr', 'carriage return'],
  ['cr-lf', 'both'],
];

/** A meter at a serial port: the port, its speed, and what it speaks. */
export function SerialFields({
  serial,
  wrong,
  onChange,
}: {
  serial: WrittenSerial;
  /** What is wrong at a place below the port's. */
  wrong: (at: string) => string | undefined;
  onChange: (now: WrittenSerial) => void;
}) {
  const ways = useQuery({
    queryKey: keys.meterWays,
    queryFn: () => given(api.GET('/api/instruments/ways')),
    staleTime: 0,
  });
  const set = (change: Partial<WrittenSerial>) => onChange({ ...serial, ...change });
  const ports = [...new Set([...(ways.data?.ports ?? []), ...(serial.port ? [serial.port] : [])])];
  return (
    <fieldset className="space-y-3 border-t border-line pt-3">
      <legend className="font-bold">Its serial port</legend>
      <ErrorNotice error={ways.error} />
      <div className="grid items-start gap-4 md:grid-cols-3">
        <Field
          label="Port of the server"
          {...(ways.data?.ports.length === 0
            ? { hint: 'The server has none now: plug the cable in, and open this again' }
            : {})}
          error={wrong('/port')}
        >
          <Select value={serial.port} onChange={(e) => set({ port: e.target.value })}>
            <option value="">choose …</option>
            {ports.map((port) => (
              <option key={port} value={port}>
                {port}
                {ways.data && !ways.data.ports.includes(port) && ' (not there now)'}
              </option>
            ))}
          </Select>
        </Field>
        <Field label="Speed, baud" error={wrong('/baud')}>
          <Select value={serial.baud} onChange={(e) => set({ baud: Number(e.target.value) })}>
            {(ways.data?.bauds ?? [serial.baud]).map((baud) => (
              <option key={baud} value={baud}>
                {baud}
              </option>
            ))}
          </Select>
        </Field>
        <Field label="Signs" error={wrong('/dataBits') ?? wrong('/parity')}>
          <Select
            value={`${serial.dataBits} ${serial.parity}`}
            onChange={(e) => {
              const [bits, parity] = e.target.value.split(' ');
              set({ dataBits: Number(bits), parity: parity as Schemas['SerialParity'] });
            }}
          >
            {[8, 7].flatMap((bits) =>
              parities.map(([parity, words]) => (
                <option key={`${bits} ${parity}`} value={`${bits} ${parity}`}>
                  {bits} bits, {words}
                </option>
              )),
            )}
          </Select>
        </Field>
        <Field label="It speaks">
          <Select
            value={serial.sendsLines ? 'lines' : 'scpi'}
            onChange={(e) => set({ sendsLines: e.target.value === 'lines' })}
          >
            <option value="scpi">SCPI, as bench meters do</option>
            <option value="lines">a line for each value</option>
          </Select>
        </Field>
        <Field label="What is sent to it ends with" error={wrong('/lineEnd')}>
          <Select value={serial.lineEnd} onChange={(e) => set({ lineEnd: e.target.value as Schemas['LineEnd'] })}>
            {ends.map(([end, words]) => (
              <option key={end} value={end}>
                {words}
              </option>
            ))}
          </Select>
        </Field>
      </div>
      {serial.sendsLines && <LineFields serial={serial} wrong={wrong} set={set} forms={ways.data?.forms ?? []} />}
    </fieldset>
  );
}

/** How the lines of a meter are read, tried on some that were captured. */
function LineFields({
  serial,
  wrong,
  set,
  forms,
}: {
  serial: WrittenSerial;
  wrong: (at: string) => string | undefined;
  set: (change: Partial<WrittenSerial>) => void;
  forms: readonly Schemas['UsualForm'][];
}) {
  const [captured, setCaptured] = useState('');
  const read = useMutation({
    mutationFn: () =>
      given(
        api.POST('/api/instruments/lines', {
          body: {
            pattern: patternOf(serial),
            lines: captured
              .split('\n')
              .map((line) => line.replace(/\r$/, ''))
              .slice(0, 50),
          },
        }),
      ),
  });
  const text = (of: 'form' | 'over' | 'ask', label: string, hint: string) => (
    <Field label={label} hint={hint} error={wrong(`/lines/${of}`)}>
      <Input
        className="font-mono"
        value={serial[of]}
        autoComplete="off"
        onChange={(e) => set({ [of]: e.target.value })}
      />
    </Field>
  );
  return (
    <>
      <div className="grid items-start gap-4 md:grid-cols-2">
        <Field label="Usual forms of a line">
          <Select
            value={forms.find((f) => f.form === serial.form)?.form ?? ''}
            onChange={(e) => set({ form: e.target.value || serial.form })}
          >
            <option value="">its own</option>
            {forms.map((f) => (
              <option key={f.form} value={f.form}>
                {f.name}: {f.sample}
              </option>
            ))}
          </Select>
        </Field>
        {text(
          'form',
          'A line looks like',
          '{value}, {unit}, {word} for letters, * for anything; a blank for blanks, commas, or nothing',
        )}
        {text('over', 'Its signs for over range', 'Beside the usual ones, such as OL; blanks between them')}
        {text('ask', 'What asks it for a line', 'Empty for a meter that sends by itself')}
      </div>
      <Field
        label="Lines that it sent"
        hint="Captured by a terminal program, or from its manual: try how they are read"
      >
        <TextArea className="font-mono" rows={3} value={captured} onChange={(e) => setCaptured(e.target.value)} />
      </Field>
      <Button disabled={captured.trim() === '' || read.isPending} onClick={() => read.mutate()}>
        Try these lines
      </Button>
      <ErrorNotice error={read.error} />
      <div role="status">
        {read.data && (
          <ul aria-label="How these lines are read" className="space-y-1">
            {read.data.map((l, i) => (
              <li key={i} className="flex items-start gap-2">
                <span className="mt-1">
                  <MarkShape mark={l.wrong === null ? 'pass' : 'fail'} size={18} />
                </span>
                {l.wrong ?? (
                  <span>
                    <b className="font-mono">{l.line}</b> is {l.reads}
                  </span>
                )}
              </li>
            ))}
          </ul>
        )}
      </div>
    </>
  );
}
