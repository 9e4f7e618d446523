import { useState } from 'react';
import { Button, Field, Input } from '../../ui/Controls';
import { ErrorNotice } from '../../ui/Notice';
import { PasswordField } from '../../ui/PasswordField';
import type { useSignIn } from './useSignIn';

/** Name and password. */
export function SignInForm({ enter }: { enter: ReturnType<typeof useSignIn> }) {
  const [signIn, setSignIn] = useState('');
  const [password, setPassword] = useState('');
  return (
    <form
      aria-label="Sign in"
      className="space-y-4 border-2 border-edge bg-card p-6"
      onSubmit={(event) => {
        event.preventDefault();
        enter.mutate({ signIn, password });
      }}
    >
      <h2 className="text-2xl font-bold">Sign in</h2>
      <Field label="Name">
        <Input
          value={signIn}
          onChange={(e) => setSignIn(e.target.value)}
          autoComplete="username"
          required
          maxLength={60}
        />
      </Field>
      <PasswordField label="Password" value={password} onChange={setPassword} />
      <ErrorNotice error={enter.error} />
      <Button kind="main" type="submit" className="w-full" disabled={enter.isPending}>
        Sign in
      </Button>
    </form>
  );
}
