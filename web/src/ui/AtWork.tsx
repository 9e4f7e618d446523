import { useIsFetching, useIsMutating, useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { api, given } from '../api/client';
import { keys } from '../api/keys';

/** What is quick needs no word. */
const quickMs = 900;

/** What the server does for this person, or when its turn comes, once waiting for it has taken a moment. */
export function AtWork() {
  const fetching = useIsFetching({ predicate: (q) => q.queryKey[0] !== keys.work[0] });
  const mutating = useIsMutating();
  const waits = fetching + mutating > 0;
  const [long, setLong] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setLong(waits), waits ? quickMs : 0);
    return () => clearTimeout(timer);
  }, [waits]);
  const asked = long && waits;
  const { data: works } = useQuery({
    queryKey: keys.work,
    queryFn: () => given(api.GET('/api/work')),
    enabled: asked,
    refetchInterval: 1000,
    gcTime: 0,
    retry: false,
  });
  if (!asked || !works || works.length === 0) return null;
  return (
    <div
      role="status"
      className="fixed bottom-4 left-4 z-30 max-w-md border-2 border-copper bg-card px-4 py-2"
      data-testid="at-work"
    >
      {works.slice(0, 3).map((w, i) => (
        <p key={i}>
          <b>{w.what}:</b> {w.text}
        </p>
      ))}
      {works.length > 3 && <p className="text-soft">and {works.length - 3} more of yours</p>}
    </div>
  );
}
