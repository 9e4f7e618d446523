import { useQuery } from '@tanstack/react-query';
import { api, carry, given } from '../../api/client';
import { keys } from '../../api/keys';

/** Who is signed in; also fetches the token that every change must carry. */
export function useSession() {
  return useQuery({
    queryKey: keys.session,
    queryFn: async () => {
      const session = await given(api.GET('/api/session'));
      carry(session.token);
      return session;
    },
    staleTime: Infinity,
  });
}
