import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, given, Refused, type Schemas } from '../../api/client';
import { Button, TextArea } from '../../ui/Controls';
import { ErrorNotice, Loading, Notice } from '../../ui/Notice';

/** Words that mean the same in this shop: a line for each group. Search, comparing and merging go by them. */
export function SynonymsPanel() {
  const stored = useQuery({ queryKey: ['synonyms'], queryFn: () => given(api.GET('/api/synonyms')) });
  if (stored.isPending) return <Loading what="the words" />;
  if (stored.isError) return <ErrorNotice error={stored.error} />;
  return <Form key={stored.data.version} stored={stored.data} />;
}

function Form({ stored }: { stored: Schemas['SynonymsView'] }) {
  const client = useQueryClient();
  const [text, setText] = useState(stored.groups.map((g) => g.join(', ')).join('\n'));
  const save = useMutation({
    mutationFn: (over: number) =>
      given(
        api.PUT('/api/synonyms', {
          headers: { 'If-Match': `"${over}"` },
          body: {
            groups: text
              .split('\n')
              .map((l) =>
                l
                  .split(',')
                  .map((w) => w.trim())
                  .filter(Boolean),
              )
              .filter((g) => g.length > 0),
          },
        }),
      ),
    onSuccess: () => client.invalidateQueries({ queryKey: ['synonyms'] }),
  });
  const overtaken = save.error instanceof Refused && save.error.status === 412;
  return (
    <section className="space-y-3">
      <h2 className="text-2xl font-bold">Words that mean the same</h2>
      <p className="text-soft">
        A line for each group, commas between the words. The first line that knows a word counts.
      </p>
      <TextArea
        aria-label="Groups of words"
        className="font-mono"
        rows={18}
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      {overtaken ? (
        <Notice tone="mind">
          <p className="font-bold">{save.error?.message}</p>
          <Button className="mt-2" onClick={() => void client.invalidateQueries({ queryKey: ['synonyms'] })}>
            Show theirs, drop mine
          </Button>
          <Button
            className="mt-2 ml-3"
            onClick={() => void given(api.GET('/api/synonyms')).then((now) => save.mutate(now.version))}
          >
            Store mine over theirs
          </Button>
        </Notice>
      ) : (
        <ErrorNotice error={save.error} />
      )}
      <div className="flex items-center gap-4">
        <Button kind="main" onClick={() => save.mutate(stored.version)} disabled={save.isPending}>
          Store the words
        </Button>
        {save.isSuccess && <span role="status">Stored.</span>}
      </div>
    </section>
  );
}
