import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { useAloneSince } from '../api/alone';

/** Says since when no server answers; looks at everything again when one does. */
export function Alone() {
  const client = useQueryClient();
  const since = useAloneSince();
  const was = useRef(since);
  useEffect(() => {
    if (was.current !== null && since === null) void client.invalidateQueries();
    was.current = since;
  }, [client, since]);
  if (since === null) return null;
  const at = new Date(since).toLocaleTimeString([], { hour: '2-digit', minute: '2-digit', second: '2-digit' });
  return (
    <p role="status" className="border-b-2 border-doubt bg-doubt/20 px-4 py-1" data-testid="alone">
      <b>Alone since {at}:</b> no answer from the server. What is shown is what was known then; readings are kept on
      this machine and sent by themselves.
    </p>
  );
}
