import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef } from 'react';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { Button } from '../../ui/Controls';
import { ErrorNotice } from '../../ui/Notice';

/** What the shop has learned of strangers' papers: mappings by name, which can be carried to another shop, and words for colours. */
export function LearnedPapers({ onChange }: { onChange: () => void }) {
  const client = useQueryClient();
  const picker = useRef<HTMLInputElement>(null);
  const memory = useQuery({ queryKey: keys.intake, queryFn: () => given(api.GET('/api/intake')) });
  const changed = async () => {
    await client.invalidateQueries({ queryKey: keys.intake });
    onChange();
  };
  const forget = useMutation({
    mutationFn: (id: number) => given(api.DELETE('/api/intake/mappings/{id}', { params: { path: { id } } })),
    onSuccess: changed,
  });
  const forgetWord = useMutation({
    mutationFn: (word: string) => given(api.DELETE('/api/intake/colours/{word}', { params: { path: { word } } })),
    onSuccess: changed,
  });
  const bring = useMutation({
    mutationFn: async (file: File) =>
      given(api.POST('/api/intake/mappings', { body: JSON.parse(await file.text()) as Schemas['MappingRequest'] })),
    onSuccess: changed,
  });
  const { mappings = [], colours = [] } = memory.data ?? {};
  return (
    <details className="border-2 border-edge bg-card px-4 py-1">
      <summary className="min-h-9 cursor-pointer leading-9">
        <b>What the shop knows of papers</b>{' '}
        <span className="text-soft">
          {mappings.length} {mappings.length === 1 ? 'shape of table' : 'shapes of table'}, {colours.length}{' '}
          {colours.length === 1 ? 'word for a colour' : 'words for colours'}
        </span>
      </summary>
      <div className="space-y-3 pb-3">
        <ul aria-label="Shapes of table">
          {mappings.map((m) => (
            <li key={m.id} className="flex flex-wrap items-baseline gap-x-4 border-t border-line py-1">
              <b>{m.name}</b>
              <span className="min-w-0 flex-1 truncate text-soft">{m.headings.filter(Boolean).join(' · ')}</span>
              <a className="min-h-8 leading-8 underline" href={`/api/intake/mappings/${m.id}/file`} download>
                Export
              </a>
              <button type="button" className="min-h-8 underline" onClick={() => forget.mutate(m.id)}>
                Forget
              </button>
            </li>
          ))}
          {mappings.length === 0 && (
            <li className="text-soft">
              None yet. What you say of a file’s columns is kept when you take it, and the next file with the same
              headings is read so.
            </li>
          )}
        </ul>
        <ul aria-label="Words for colours" className="flex flex-wrap gap-x-6">
          {colours.map((c) => (
            <li key={c.word}>
              {c.word} is <b>{c.code}</b>{' '}
              <button type="button" className="min-h-8 underline" onClick={() => forgetWord.mutate(c.word)}>
                Forget<span className="sr-only"> {c.word}</span>
              </button>
            </li>
          ))}
        </ul>
        <input
          ref={picker}
          type="file"
          accept=".json"
          className="sr-only"
          aria-label="Mapping file"
          tabIndex={-1}
          onChange={(e) => {
            const file = e.target.files?.[0];
            if (file) bring.mutate(file);
            e.target.value = '';
          }}
        />
        <Button changes onClick={() => picker.current?.click()}>
          Bring a mapping in
        </Button>
        <ErrorNotice error={memory.error ?? forget.error ?? forgetWord.error ?? bring.error} />
      </div>
    </details>
  );
}
