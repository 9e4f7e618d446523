import { useQueryClient } from '@tanstack/react-query';
import { Sheet } from '../../ui/Sheet';
import { SignInForm } from './SignInForm';
import { useSignIn } from './useSignIn';

/** The session ended while a page was open: the page waits under this, with all that was typed into it. */
export function SignInAgain() {
  const client = useQueryClient();
  const enter = useSignIn(() => client.invalidateQueries());
  return (
    <Sheet title="You were signed out" onClose={() => undefined}>
      <p className="mb-4">
        The session ended by itself, or somebody ended it. What you typed is still here; sign in to go on.
      </p>
      <SignInForm enter={enter} />
    </Sheet>
  );
}
