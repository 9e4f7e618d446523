import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { uuidv7 } from '../../api/uuid';
import { Button, Field, Input, TextArea } from '../../ui/Controls';
import { ErrorNotice, Notice } from '../../ui/Notice';

/** What the customer is asked before boxing, and what they say through a link without an account. */
export function ReviewPanel({ job, mayOpen }: { job: number; mayOpen: boolean }) {
  const client = useQueryClient();
  const [asking, setAsking] = useState(false);
  const [link, setLink] = useState<string | null>(null);
  const done = () => client.invalidateQueries({ queryKey: keys.review(job) });
  const review = useQuery({
    queryKey: keys.review(job),
    queryFn: () => given(api.GET('/api/jobs/{id}/review', { params: { path: { id: job } } })),
  });
  const open = useMutation({
    mutationFn: () => given(api.POST('/api/jobs/{id}/review', { params: { path: { id: job } } })),
    onSuccess: (opened) => {
      setLink(new URL(opened.link, location.origin).href);
      return done();
    },
  });
  const withdraw = useMutation({
    mutationFn: () => given(api.DELETE('/api/jobs/{id}/review', { params: { path: { id: job } } })),
    onSuccess: () => {
      setLink(null);
      return done();
    },
  });
  const { questions, said, openUntil, changedSinceGo } = review.data ?? {
    questions: [],
    said: [],
    changedSinceGo: false,
  };
  return (
    <section aria-labelledby="review" className="space-y-3 border-2 border-edge bg-card p-4">
      <h2 id="review" className="text-xl font-bold">
        Before boxing: the customer’s word
      </h2>
      <ErrorNotice error={review.error ?? open.error ?? withdraw.error} />
      {changedSinceGo && (
        <Notice tone="wrong">The loom was changed after the customer said go. Ask again before it is boxed.</Notice>
      )}
      {questions.map((q) => (
        <div key={q.id} className="border-l-4 border-line pl-3">
          <p className="font-bold">{q.asks}</p>
          {q.choices.length > 0 && <p className="text-soft">{q.choices.join(' · ')}</p>}
          <Said said={said.filter((s) => s.kind === 'answer' && s.subject === String(q.id))} none="No answer yet." />
        </div>
      ))}
      <Said said={said.filter((s) => s.kind !== 'answer')} none="Nothing was said yet." />
      {link ? (
        <Notice tone="mind">
          The link is shown this once; send it to the customer now: <span className="font-mono break-all">{link}</span>
        </Notice>
      ) : (
        openUntil && (
          <p>A review link is out until {new Date(openUntil).toLocaleDateString('en-GB', { dateStyle: 'medium' })}.</p>
        )
      )}
      <div className="flex flex-wrap gap-3">
        <Button changes onClick={() => setAsking(!asking)}>
          Ask the customer something
        </Button>
        {mayOpen && (
          <Button changes onClick={() => open.mutate()} disabled={open.isPending}>
            {openUntil ? 'Make a new review link' : 'Make a review link'}
          </Button>
        )}
        {mayOpen && openUntil && (
          <Button changes onClick={() => withdraw.mutate()} disabled={withdraw.isPending}>
            Withdraw the review link
          </Button>
        )}
      </div>
      {asking && (
        <Ask
          job={job}
          onAsked={() => {
            setAsking(false);
            void done();
          }}
        />
      )}
    </section>
  );
}

function Said({ said, none }: { said: Schemas['ReviewWordView'][]; none: string }) {
  if (said.length === 0) return <p className="text-soft">{none}</p>;
  return (
    <ul className="space-y-1">
      {said.map((s, n) => (
        <li key={n}>
          <b>{s.name}</b>{' '}
          {s.kind === 'go'
            ? 'said go'
            : `${s.subject && s.kind === 'comment' ? `on ${s.subject} ` : ''}said: ${s.words}`}{' '}
          <span className="text-soft">
            {new Date(s.at).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' })}
            {s.old && ', of an earlier revision'}
          </span>
        </li>
      ))}
    </ul>
  );
}

function Ask({ job, onAsked }: { job: number; onAsked: () => void }) {
  const [key] = useState(uuidv7);
  const [asks, setAsks] = useState('');
  const [choices, setChoices] = useState('');
  const ask = useMutation({
    mutationFn: () =>
      given(
        api.POST('/api/jobs/{id}/questions', {
          params: { path: { id: job } },
          body: { key, asks, choices: choices.split('\n').filter((c) => c.trim()) },
        }),
      ),
    onSuccess: onAsked,
  });
  return (
    <form
      className="space-y-3"
      onSubmit={(e) => {
        e.preventDefault();
        ask.mutate();
      }}
    >
      <Field label="Question">
        <Input value={asks} maxLength={500} required onChange={(e) => setAsks(e.target.value)} />
      </Field>
      <Field label="Choices, one a line, each with what it changes; none for free words">
        <TextArea value={choices} onChange={(e) => setChoices(e.target.value)} />
      </Field>
      <ErrorNotice error={ask.error} />
      <Button changes kind="main" type="submit" disabled={ask.isPending}>
        Ask it
      </Button>
    </form>
  );
}
