import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, given, Refused, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { Button, Field, Input } from '../../ui/Controls';
import { ErrorNotice } from '../../ui/Notice';
import { Tick } from '../../ui/Tick';
import type { Link } from './LinkNotice';
import { RoleSelect } from './RoleSelect';
import { SessionTable } from './SessionTable';

/** What a lead can change about an account. */
export function AccountForm({ account, onLink }: { account: Schemas['AccountView']; onLink: (link: Link) => void }) {
  const client = useQueryClient();
  const { id, version } = account;
  const path = { path: { id } };
  const [to, setTo] = useState({ name: account.name, role: account.role, disabled: account.disabled });
  const again = () => client.invalidateQueries({ queryKey: keys.accounts });
  const sessions = useQuery({
    queryKey: keys.accountSessions(id),
    queryFn: () => given(api.GET('/api/accounts/{id}/sessions', { params: path })),
  });
  const save = useMutation({
    mutationFn: () =>
      given(api.PUT('/api/accounts/{id}', { params: path, headers: { 'If-Match': `"${version}"` }, body: to })),
    onSuccess: again,
  });
  const link = useMutation({
    mutationFn: () => given(api.POST('/api/accounts/{id}/link', { params: path })),
    onSuccess: (made) => {
      onLink({ ...made, name: account.name });
      return again();
    },
  });
  const end = useMutation({
    mutationFn: () => given(api.DELETE('/api/accounts/{id}/sessions', { params: path })),
    onSettled: again,
  });
  const problems = save.error instanceof Refused ? save.error.problems : [];
  const wrong = (at: string) => problems.find((p) => p.at === at)?.message;
  return (
    <div className="grid gap-6 border-t border-line p-4 lg:grid-cols-[1fr_1.5fr]">
      <form
        aria-label={`Account of ${account.name}`}
        className="space-y-4"
        onSubmit={(e) => {
          e.preventDefault();
          save.mutate();
        }}
      >
        <Field label="Name" error={wrong('/name')}>
          <Input value={to.name} onChange={(e) => setTo({ ...to, name: e.target.value })} required maxLength={120} />
        </Field>
        <RoleSelect value={to.role} error={wrong('/role')} onChange={(role) => setTo({ ...to, role })} />
        <label className="flex min-h-11 items-center gap-3">
          <Tick checked={to.disabled} onChange={(disabled) => setTo({ ...to, disabled })} />
          <span>
            <b>Disabled</b>: signed out everywhere, and cannot come in. The name stays on what was signed.
          </span>
        </label>
        {problems.length === 0 && <ErrorNotice error={save.error} />}
        <Button kind="main" type="submit" disabled={save.isPending}>
          Save
        </Button>
      </form>
      <div className="space-y-4">
        <SessionTable sessions={sessions.data ?? []} />
        <ErrorNotice error={sessions.error ?? link.error ?? end.error} />
        <span className="flex flex-wrap gap-3">
          <Button onClick={() => end.mutate()} disabled={end.isPending || account.sessions === 0}>
            Sign out everywhere
          </Button>
          <Button onClick={() => link.mutate()} disabled={link.isPending || account.disabled}>
            {account.hasPassword ? 'Link for a forgotten password' : 'New link for the first password'}
          </Button>
        </span>
      </div>
    </div>
  );
}
