import { useMutation } from '@tanstack/react-query';
import { api, carry, given, type Schemas } from '../../api/client';
import { forgetKept } from '../../api/kept';
import { signedInAgain } from './signedOut';

/** Signs somebody in. */
export function useSignIn(onSuccess: () => Promise<void>) {
  return useMutation({
    mutationFn: async (who: Schemas['SignInRequest']) => {
      // The token of a session that ended is good for nothing.
      carry((await given(api.GET('/api/session'))).token);
      return given(api.POST('/api/session', { body: who }));
    },
    // Its refusal is no sign that one has been signed out.
    meta: { atTheDoor: true },
    onSuccess: async () => {
      await forgetKept();
      await onSuccess();
      signedInAgain();
    },
  });
}
