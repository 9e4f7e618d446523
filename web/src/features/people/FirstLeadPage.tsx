import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, given, Refused } from '../../api/client';
import { Button, Field, Input } from '../../ui/Controls';
import { ErrorNotice } from '../../ui/Notice';
import { PasswordField } from '../../ui/PasswordField';
import { usePageTitle } from '../../ui/usePageTitle';
import { Outside } from './Outside';

/** A new shop without anybody in it: whoever stands at the server makes the first lead. */
export function FirstLeadPage() {
  usePageTitle(undefined, 'The first lead');
  const client = useQueryClient();
  const [lead, setLead] = useState({ code: '', signIn: '', name: '', password: '' });
  const make = useMutation({
    mutationFn: async () => {
      await given(api.POST('/api/first-lead', { body: lead }));
      await given(api.POST('/api/session', { body: { signIn: lead.signIn, password: lead.password } }));
    },
    onSettled: (_, error) => (error ? undefined : client.resetQueries()),
  });
  const problems = make.error instanceof Refused ? make.error.problems : [];
  const wrong = (at: string) => problems.find((p) => p.at === at)?.message;
  const text = (at: 'code' | 'signIn' | 'name') => ({
    value: lead[at],
    onChange: (e: { target: { value: string } }) => setLead({ ...lead, [at]: e.target.value }),
    required: true,
  });
  return (
    <Outside title="Nobody is here yet">
      <form
        className="space-y-4 border-2 border-edge bg-card p-6"
        onSubmit={(e) => {
          e.preventDefault();
          make.mutate();
        }}
      >
        <p className="text-lg">
          Make the shop’s first lead, who then makes accounts for everybody else. The code stands in the terminal in
          which the server was started.
        </p>
        <Field label="Code from the terminal" error={wrong('/code')}>
          <Input {...text('code')} autoComplete="off" maxLength={60} className="font-mono" />
        </Field>
        <Field label="Your name" hint="As it is to stand on what you sign" error={wrong('/name')}>
          <Input {...text('name')} autoComplete="name" maxLength={120} />
        </Field>
        <Field label="Sign-in name" hint="Small letters and digits, short to type" error={wrong('/signIn')}>
          <Input {...text('signIn')} autoComplete="username" maxLength={60} />
        </Field>
        <PasswordField
          isNew
          label="New password"
          value={lead.password}
          onChange={(password) => setLead({ ...lead, password })}
          error={wrong('/password')}
        />
        {problems.length === 0 && <ErrorNotice error={make.error} />}
        <Button kind="main" type="submit" disabled={make.isPending}>
          Make the first lead
        </Button>
      </form>
    </Outside>
  );
}
