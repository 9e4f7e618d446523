import { useMutation } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { sendFile, type Schemas } from '../../api/client';
import { Button, Field, Select, TextArea } from '../../ui/Controls';
import { ErrorNotice, Notice } from '../../ui/Notice';
import { ProblemRows } from '../../ui/ProblemRows';

/** Lines from a file or from pasted text: shown first, taken only on a word. */
export function ReadLines({
  plugs,
  onTake,
}: {
  plugs: readonly Schemas['SheetConnector'][];
  onTake: (lines: readonly Schemas['SheetLine'][]) => void;
}) {
  const [text, setText] = useState('');
  const [plug, setPlug] = useState('');
  const picker = useRef<HTMLInputElement>(null);
  const read = useMutation({
    mutationFn: ({ body, name }: { body: Blob; name: string }) =>
      sendFile<Schemas['ReadLinesView']>(
        `/api/sheets/read-lines?${new URLSearchParams({ name, plug: plug || plugs[0]?.ref || '' }).toString()}`,
        body,
      ),
  });
  const take = () => {
    if (!read.data) return;
    onTake(read.data.lines);
    read.reset();
    setText('');
  };
  return (
    <details className="border-2 border-edge bg-card p-3">
      <summary className="min-h-8 cursor-pointer font-bold">Bring lines in from a file or pasted text</summary>
      <div className="mt-3 grid gap-4 sm:grid-cols-[1fr_16rem]">
        <Field
          label="Pasted rows"
          hint="The first row names the columns: cavity and function are needed; connector, direction, colour, section, note may be there"
        >
          <TextArea rows={5} className="font-mono" value={text} onChange={(e) => setText(e.target.value)} />
        </Field>
        <div className="space-y-3">
          <Field label="Plug, when the rows do not say">
            <Select value={plug} onChange={(e) => setPlug(e.target.value)}>
              {plugs.length === 0 && <option value="">none yet</option>}
              {plugs.map((p) => (
                <option key={p.ref} value={p.ref}>
                  {p.ref}
                </option>
              ))}
            </Select>
          </Field>
          <div className="flex gap-2">
            <Button
              onClick={() => read.mutate({ body: new Blob([text]), name: 'pasted rows' })}
              disabled={!text.trim()}
            >
              Read the text
            </Button>
            <Button onClick={() => picker.current?.click()}>Choose a file</Button>
          </div>
          <input
            ref={picker}
            type="file"
            accept=".csv,.xlsx,.tsv,.txt"
            className="sr-only"
            tabIndex={-1}
            aria-label="File with lines"
            onChange={(e) => {
              const file = e.target.files?.[0];
              if (file) read.mutate({ body: file, name: file.name });
            }}
          />
        </div>
      </div>
      <ErrorNotice error={read.error} />
      {read.data && read.data.problems.length > 0 && (
        <Notice tone="wrong">
          <p className="font-bold">These rows cannot be read as they are. Nothing was taken.</p>
          <ProblemRows label="Problems of the rows" problems={read.data.problems} />
        </Notice>
      )}
      {read.data && read.data.problems.length === 0 && (
        <Notice tone="good">
          <p>
            <b>{read.data.lines.length} lines were read.</b> The first: {read.data.lines[0]?.connector}:
            {read.data.lines[0]?.cavity} {read.data.lines[0]?.function}. Lines of a cavity that is there already are
            replaced.
          </p>
          <Button kind="main" className="mt-2" onClick={take}>
            Take them into the sheet
          </Button>
        </Notice>
      )}
    </details>
  );
}
