import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, given, Refused } from '../../api/client';
import { Button } from '../../ui/Controls';
import { ErrorNotice, Loading } from '../../ui/Notice';
import { PasswordField } from '../../ui/PasswordField';
import { usePageTitle } from '../../ui/usePageTitle';
import { Outside } from './Outside';

/** Whoever has a one-time link sets the password here, and comes in. */
export function WelcomePage() {
  usePageTitle(undefined, 'Welcome');
  const code = location.hash.slice(1);
  const [password, setPassword] = useState('');
  const owner = useQuery({
    queryKey: ['welcome', code],
    queryFn: () => given(api.POST('/api/password-links/look', { body: { code } })),
    retry: false,
  });
  const set = useMutation({
    mutationFn: async (signIn: string) => {
      await given(api.POST('/api/password-links/use', { body: { code, password } }));
      await given(api.POST('/api/session', { body: { signIn, password } }));
    },
    onSuccess: () => location.replace('/'),
  });
  const problems = set.error instanceof Refused ? set.error.problems : [];
  if (owner.isPending) return <Loading what="the link" />;
  if (owner.isError) {
    return (
      <Outside title="This link is closed">
        <ErrorNotice error={owner.error} />
        <a href="/" className="underline">
          To the sign-in page
        </a>
      </Outside>
    );
  }
  return (
    <Outside title={`Welcome, ${owner.data.name}`}>
      <form
        className="space-y-4 border-2 border-edge bg-card p-6"
        onSubmit={(e) => {
          e.preventDefault();
          set.mutate(owner.data.signIn);
        }}
      >
        <p className="text-lg">
          You sign in as <b className="font-mono">{owner.data.signIn}</b>. Choose a password that only you know; this
          link closes with it, and wherever you are still signed in you are signed out.
        </p>
        <input type="hidden" name="username" autoComplete="username" value={owner.data.signIn} readOnly />
        <PasswordField
          isNew
          label="New password"
          value={password}
          onChange={setPassword}
          error={problems.find((p) => p.at === '/password')?.message}
        />
        {problems.length === 0 && <ErrorNotice error={set.error} />}
        <Button kind="main" type="submit" disabled={set.isPending}>
          Set it and come in
        </Button>
      </form>
    </Outside>
  );
}
