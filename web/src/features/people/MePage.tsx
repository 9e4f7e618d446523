import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, given, Refused } from '../../api/client';
import { keys } from '../../api/keys';
import { Button } from '../../ui/Controls';
import { ErrorNotice, Loading, Notice } from '../../ui/Notice';
import { PasswordField } from '../../ui/PasswordField';
import { useSession } from '../session/useSession';
import { PeopleFrame } from './PeopleFrame';
import { SessionTable } from './SessionTable';

/** One's own password and sessions. */
export function MePage() {
  const { data: session } = useSession();
  const client = useQueryClient();
  const sessions = useQuery({ queryKey: keys.mySessions, queryFn: () => given(api.GET('/api/me/sessions')) });
  const end = useMutation({
    mutationFn: (id: string) => given(api.DELETE('/api/me/sessions/{id}', { params: { path: { id } } })),
    onSettled: () => client.invalidateQueries({ queryKey: keys.mySessions }),
  });
  return (
    <PeopleFrame title="You">
      <h2 className="text-2xl font-bold">
        {session?.person?.name} <span className="font-normal text-soft">{session?.person?.role}</span>
      </h2>
      <div className="grid gap-8 lg:grid-cols-[1fr_1.4fr]">
        <Password />
        <section aria-label="Where you are signed in" className="space-y-3">
          <h3 className="text-xl font-bold">Where you are signed in</h3>
          <p className="text-soft">A session ends by itself when nothing has come from it for 12 hours.</p>
          <ErrorNotice error={sessions.error ?? end.error} />
          {sessions.isPending && <Loading what="your sessions" />}
          {sessions.data && <SessionTable sessions={sessions.data} onEnd={(id) => end.mutate(id)} />}
        </section>
      </div>
    </PeopleFrame>
  );
}

function Password() {
  const client = useQueryClient();
  const [old, setOld] = useState('');
  const [next, setNext] = useState('');
  const change = useMutation({
    mutationFn: () => given(api.PUT('/api/me/password', { body: { old, new: next } })),
    onSuccess: () => {
      setOld('');
      setNext('');
      return client.invalidateQueries({ queryKey: keys.mySessions });
    },
  });
  const problems = change.error instanceof Refused ? change.error.problems : [];
  const wrong = (at: string) => problems.find((p) => p.at === at)?.message;
  return (
    <form
      aria-label="Your password"
      className="space-y-4"
      onSubmit={(e) => {
        e.preventDefault();
        change.mutate();
      }}
    >
      <h3 className="text-xl font-bold">Your password</h3>
      <PasswordField label="As it is now" value={old} onChange={setOld} error={wrong('/old')} />
      <PasswordField isNew label="New password" value={next} onChange={setNext} error={wrong('/new')} />
      {problems.length === 0 && <ErrorNotice error={change.error} />}
      {change.isSuccess && <Notice tone="good">Changed. Wherever else you were signed in, you are signed out.</Notice>}
      <Button kind="main" type="submit" disabled={change.isPending}>
        Change it
      </Button>
    </form>
  );
}
