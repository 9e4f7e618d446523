import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, given, sendFileForFile } from '../../api/client';
import { keys } from '../../api/keys';
import { Button, Field, Select } from '../../ui/Controls';
import { ErrorNotice } from '../../ui/Notice';

/** A customer's own list back with what each row reads and its verdict, or our list of wires in the order of a kept mapping. */
export function FillIn({ run }: { run: number }) {
  const [file, setFile] = useState<File | null>(null);
  const [mapping, setMapping] = useState('');
  const memory = useQuery({ queryKey: keys.intake, queryFn: () => given(api.GET('/api/intake')) });
  const fill = useMutation({
    mutationFn: async (own: File) => {
      const { blob, name } = await sendFileForFile(
        `/api/runs/${run}/fill-in?name=${encodeURIComponent(own.name.slice(0, 120))}`,
        own,
      );
      const link = document.createElement('a');
      link.href = URL.createObjectURL(blob);
      link.download = name;
      link.click();
      URL.revokeObjectURL(link.href);
      return name;
    },
  });
  return (
    <section aria-labelledby="fill" className="space-y-3">
      <h2 id="fill" className="text-2xl font-bold">
        The customer’s own list, filled in
      </h2>
      <form
        className="space-y-3"
        onSubmit={(e) => {
          e.preventDefault();
          if (file) fill.mutate(file);
        }}
      >
        <p className="text-soft">
          Choose the spreadsheet that the customer sent. It comes back as it is, with two more columns: reads, verdict.
        </p>
        <label className="block">
          <span className="mb-1 block font-bold">Customer’s list</span>
          <input
            type="file"
            accept=".xlsx,.csv,.tsv,.txt"
            className="w-full file:mr-3 file:min-h-11 file:cursor-pointer file:border-2 file:border-edge file:bg-card file:px-3 file:font-bold file:text-ink"
            onChange={(e) => {
              setFile(e.target.files?.[0] ?? null);
              fill.reset();
            }}
          />
        </label>
        <Button type="submit" disabled={!file || fill.isPending}>
          {fill.isPending ? 'Filling in …' : 'Fill it in'}
        </Button>
        {fill.data && (
          <p role="status" className="text-pass">
            {fill.data} is with your downloads.
          </p>
        )}
        <ErrorNotice error={fill.error} />
      </form>
      {(memory.data?.mappings.length ?? 0) > 0 && (
        <div className="space-y-2">
          <Field label="Our list in the columns of">
            <Select value={mapping} onChange={(e) => setMapping(e.target.value)}>
              <option value="">choose a shape that the shop knows</option>
              {memory.data?.mappings.map((m) => (
                <option key={m.id} value={m.id}>
                  {m.name}
                </option>
              ))}
            </Select>
          </Field>
          {mapping && (
            <a
              className="inline-flex min-h-11 items-center underline"
              href={`/api/runs/${run}/results.xlsx?mapping=${mapping}`}
              download
            >
              Results in these columns (XLSX)
            </a>
          )}
        </div>
      )}
    </section>
  );
}
