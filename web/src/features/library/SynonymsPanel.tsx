import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, begunFrom, given, Refused, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { Button, TextArea } from '../../ui/Controls';
import { ErrorNotice, Loading } from '../../ui/Notice';
import { Overtaken } from '../../ui/Overtaken';

/** Words that mean the same in this shop: a line for each group. Search, comparing and merging go by them. */
export function SynonymsPanel() {
  const stored = useQuery({
    queryKey: keys.synonyms,
    queryFn: () => given(api.GET('/api/synonyms')),
    ...begunFrom,
  });
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
    onSuccess: () => client.invalidateQueries({ queryKey: keys.synonyms }),
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
        <BothSides
          said={save.error?.message ?? ''}
          mine={text.split('\n')}
          onStore={(over) => save.mutate(over)}
          onTake={() => void client.invalidateQueries({ queryKey: keys.synonyms })}
        />
      ) : (
        <ErrorNotice error={save.error} />
      )}
      <div className="flex items-center gap-4">
        <Button changes kind="main" onClick={() => save.mutate(stored.version)} disabled={save.isPending}>
          Store the words
        </Button>
        {save.isSuccess && <span role="status">Stored.</span>}
      </div>
    </section>
  );
}

/** The groups that only one side has, and the choice. */
function BothSides({
  said,
  mine,
  onStore,
  onTake,
}: {
  said: string;
  mine: readonly string[];
  onStore: (over: number) => void;
  onTake: () => void;
}) {
  const theirs = useQuery({
    queryKey: keys.synonymsTheirs,
    queryFn: () => given(api.GET('/api/synonyms')),
    gcTime: 0,
  });
  if (!theirs.data) return <Loading what="the other change" />;
  const groups = theirs.data.groups.map((g) => g.join(', '));
  return (
    <Overtaken
      said={said}
      differs={[
        ...groups.filter((g) => !mine.includes(g)).map((g) => `Only theirs: ${g}`),
        ...mine.filter((g) => g.trim() && !groups.includes(g)).map((g) => `Only yours: ${g}`),
      ]}
      onStore={() => onStore(theirs.data.version)}
      onTake={onTake}
    />
  );
}
