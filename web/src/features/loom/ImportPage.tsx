import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState, type DragEvent } from 'react';
import { Link } from 'react-router';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { Button, TextArea } from '../../ui/Controls';
import { ErrorNotice } from '../../ui/Notice';
import { useJob } from '../jobs/JobShell';
import { CableForm } from './CableForm';
import { CopyForm } from './CopyForm';
import { IntakePreview } from './IntakePreview';
import { LearnedPapers } from './LearnedPapers';
import { lookAt, type Said } from './said';
import { TakeIn } from './TakeIn';

/** What the server is asked about a file: as it is, or with what somebody said of it. */
interface Asked {
  file: File;
  said?: Said;
}

/** Brings a loom into a job from a file, pasted rows, a cable's three fields or another loom: what it would change is shown first. */
export function ImportPage() {
  const { job } = useJob();
  const client = useQueryClient();
  const picker = useRef<HTMLInputElement>(null);
  const [name, setName] = useState('');
  const [over, setOver] = useState(false);
  // What was shown stays until the next answer is there: the tables do not jump away under the hand.
  const [shown, setShown] = useState<{ at: number; preview: Schemas['ImportPreview'] } | null>(null);
  const [asked, setAsked] = useState<Asked | null>(null);
  const palette = useQuery({
    queryKey: keys.colours,
    queryFn: () => given(api.GET('/api/colours')),
    staleTime: Infinity,
  });
  const show = (preview: Schemas['ImportPreview']) => setShown((before) => ({ at: before?.at ?? Date.now(), preview }));
  const look = useMutation({ mutationFn: ({ file, said }: Asked) => lookAt(job.id, file, said), onSuccess: show });
  const keep = useMutation({
    mutationFn: (body: Schemas['MappingRequest']) => given(api.POST('/api/intake/mappings', { body })),
    onSuccess: async (memory) => {
      client.setQueryData(keys.intake, memory);
      if (asked) await look.mutateAsync(asked);
    },
  });
  const sayColour = useMutation({
    mutationFn: ({ word, code }: { word: string; code: string }) =>
      given(api.PUT('/api/intake/colours/{word}', { params: { path: { word } }, body: { code } })),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: keys.intake });
      if (asked) look.mutate(asked);
    },
  });
  const again = (of: Asked) => {
    setAsked(of);
    look.mutate(of);
  };
  const take = (file: File | undefined) => {
    if (!file) return;
    setName(file.name);
    setShown(null);
    again({ file });
    // The same file, mended, may be chosen again.
    if (picker.current) picker.current.value = '';
  };
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    take(event.dataTransfer.files[0]);
  };
  const made = (what: string, preview: Schemas['ImportPreview']) => {
    setName(what);
    setAsked(null);
    setShown({ at: Date.now(), preview });
  };
  const keepTable = (table: Schemas['TablesView'], called: string) => keep.mutate(mappingOf(table, called));
  // What was said of its columns holds for the next file with the same headings.
  const keepAll = async () => {
    const columns = asked?.said?.columns;
    for (const table of shown?.preview.intake?.tables ?? []) {
      if (columns && table.columns.some((c) => c.heading in columns))
        await given(
          api.POST('/api/intake/mappings', {
            body: mappingOf(table, table.remembered ?? name.replace(/\.[^.]*$/, '').slice(0, 50)),
          }),
        );
    }
    await client.invalidateQueries({ queryKey: keys.intake });
  };
  const intake = shown?.preview.intake ?? null;
  return (
    <div className={`mx-auto w-full space-y-5 p-6 ${intake ? 'max-w-7xl' : 'max-w-5xl'}`}>
      <h2 className="text-2xl font-bold">{job.revisionId ? 'Bring a file in' : 'New loom'}</h2>
      <div
        onDragOver={(e) => {
          e.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={drop}
        className={`border-4 border-dashed text-center ${shown ? 'p-3' : 'p-6'} ${over ? 'border-copper bg-card' : 'border-edge'}`}
      >
        <p className={shown ? 'sr-only' : 'mb-4 text-lg'}>
          Drop any table of wires or pins here, a workbook, or a loom file, or choose one.
        </p>
        <input
          ref={picker}
          type="file"
          accept=".json,.xlsx,.csv,.zip,.tsv,.txt"
          className="sr-only"
          aria-label="Loom file"
          tabIndex={-1}
          onChange={(e) => take(e.target.files?.[0])}
        />
        <Button kind="main" onClick={() => picker.current?.click()} disabled={look.isPending}>
          {shown ? 'Choose another file' : 'Choose a file'}
        </Button>
        {shown && (
          <Button className="ml-3" onClick={() => setShown(null)}>
            Begin again
          </Button>
        )}
        <p className={shown && !look.isPending ? 'sr-only' : 'mt-4 text-soft'}>
          {look.isPending
            ? `Reading ${name} …`
            : 'A wire list, a pinout for each connector or a cross table in any order of columns: XLSX, CSV or text. A loom file: JSON, XLSX, CSV or a ZIP of CSV files. At most 8 MB. Nothing is stored by looking.'}
        </p>
      </div>
      {!shown && <OtherWays onRows={take} onMade={made} />}
      <ErrorNotice error={look.error ?? keep.error ?? sayColour.error} />
      {shown && (
        <TakeIn key={shown.at} name={name} preview={shown.preview} onTaken={keepAll}>
          {asked && intake && (
            <IntakePreview
              intake={intake}
              said={asked.said ?? {}}
              palette={palette.data ?? []}
              busy={look.isPending}
              onSay={(said) => again({ ...asked, said })}
              onKeep={keepTable}
              onColour={(word, code) => sayColour.mutate({ word, code })}
            />
          )}
          {asked && !intake && shown.preview.problems.length > 0 && (
            <p>
              Is it a table of somebody else’s?{' '}
              <button
                type="button"
                className="min-h-8 underline"
                onClick={() => again({ ...asked, said: { columns: {} } })}
              >
                Read it as any table
              </button>
            </p>
          )}
        </TakeIn>
      )}
      <LearnedPapers onChange={() => asked && look.mutate(asked)} />
    </div>
  );
}

/** How a table's columns are read, as the shop keeps it. */
const mappingOf = (table: Schemas['TablesView'], name: string): Schemas['MappingRequest'] => ({
  name: name || 'Table',
  headings: table.columns.map((c) => c.heading),
  columns: Object.fromEntries(table.columns.map((c) => [c.key, { meaning: c.meaning, unit: c.unit, of: c.of }])),
});

/** Without a file: rows from the clipboard, a cable, another loom, or by hand. */
function OtherWays({
  onRows,
  onMade,
}: {
  onRows: (file: File) => void;
  onMade: (what: string, preview: Schemas['ImportPreview']) => void;
}) {
  const { job } = useJob();
  const [way, setWay] = useState<'paste' | 'cable' | 'copy'>('paste');
  const [text, setText] = useState('');
  const read = (rows: string) => {
    if (rows.trim()) onRows(new File([rows], 'pasted.txt', { type: 'text/plain' }));
  };
  const ways = [
    ['paste', 'Paste rows'],
    ['cable', 'Straight cable'],
    ['copy', 'Copy of a loom'],
  ] as const;
  return (
    <section aria-label="Other ways" className="space-y-3">
      <div className="flex flex-wrap items-center gap-2">
        {ways.map(([id, label]) => (
          <Button
            key={id}
            aria-pressed={way === id}
            className="aria-pressed:border-copper aria-pressed:text-copper"
            onClick={() => setWay(id)}
          >
            {label}
          </Button>
        ))}
        <Link className="inline-flex min-h-11 items-center px-2 underline" to={`/jobs/${job.id}/draft`}>
          Enter it by hand
        </Link>
      </div>
      {way === 'paste' && (
        <form
          className="space-y-2"
          onSubmit={(e) => {
            e.preventDefault();
            read(text);
          }}
        >
          <TextArea
            aria-label="Rows"
            rows={6}
            className="font-mono"
            placeholder="Paste rows out of a spreadsheet, a PDF or an e-mail here."
            value={text}
            maxLength={2_000_000}
            onChange={(e) => setText(e.target.value)}
          />
          <Button type="submit" disabled={!text.trim()}>
            Read these rows
          </Button>
        </form>
      )}
      {way === 'cable' && <CableForm onMade={onMade} />}
      {way === 'copy' && <CopyForm onMade={onMade} />}
    </section>
  );
}
