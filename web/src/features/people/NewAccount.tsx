import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, given, Refused } from '../../api/client';
import { keys } from '../../api/keys';
import { Button, Field, Input } from '../../ui/Controls';
import { ErrorNotice } from '../../ui/Notice';
import type { Link } from './LinkNotice';
import { RoleSelect } from './RoleSelect';

const nobody = { signIn: '', name: '', role: 'technician' };

/** Gives somebody new access; the password is set by its owner. */
export function NewAccount({ onLink }: { onLink: (link: Link) => void }) {
  const client = useQueryClient();
  const [who, setWho] = useState(nobody);
  const add = useMutation({
    mutationFn: () => given(api.POST('/api/accounts', { body: who })),
    onSuccess: (made) => {
      onLink({ ...made, name: who.name });
      setWho(nobody);
      return client.invalidateQueries({ queryKey: keys.accounts });
    },
  });
  const problems = add.error instanceof Refused ? add.error.problems : [];
  const wrong = (at: string) => problems.find((p) => p.at === at)?.message;
  return (
    <form
      aria-label="Somebody new"
      className="space-y-4 border-2 border-edge p-4"
      onSubmit={(e) => {
        e.preventDefault();
        add.mutate();
      }}
    >
      <h2 className="text-xl font-bold">Somebody new</h2>
      <div className="grid items-start gap-4 md:grid-cols-3">
        <Field label="Full name" hint="As it is to stand on what is signed" error={wrong('/name')}>
          <Input value={who.name} onChange={(e) => setWho({ ...who, name: e.target.value })} required maxLength={120} />
        </Field>
        <Field label="Sign-in name" hint="Small letters and digits" error={wrong('/signIn')}>
          <Input
            value={who.signIn}
            onChange={(e) => setWho({ ...who, signIn: e.target.value })}
            required
            maxLength={60}
            autoComplete="off"
          />
        </Field>
        <RoleSelect value={who.role} error={wrong('/role')} onChange={(role) => setWho({ ...who, role })} />
      </div>
      {problems.length === 0 && <ErrorNotice error={add.error} />}
      <Button kind="main" type="submit" disabled={add.isPending}>
        Make the account and its link
      </Button>
    </form>
  );
}
