import type { Schemas } from '../../api/client';
import { Button } from '../../ui/Controls';
import { Scroll } from '../../ui/Scroll';
import { TableHead } from '../../ui/TableHead';
import { browserName } from './browserName';

const at = (time: string) => new Date(time).toLocaleString(undefined, { dateStyle: 'medium', timeStyle: 'short' });

/** Where somebody is signed in. */
export function SessionTable({
  sessions,
  onEnd,
}: {
  sessions: readonly Schemas['OpenSessionView'][];
  /** Ends one of them; without it they are only shown. */
  onEnd?: (id: string) => void;
}) {
  if (sessions.length === 0) return <p className="text-soft">Signed in nowhere.</p>;
  return (
    <Scroll label="Browsers">
      <table className="w-full text-left">
        <TableHead names={['Browser', 'From', 'Signed in', 'Last seen', ...(onEnd ? ['End'] : [])]} cell="py-1 pr-4" />
        <tbody>
          {sessions.map((s) => (
            <tr key={s.id} className="border-b border-line">
              <th scope="row" className="py-1 pr-4 font-bold whitespace-nowrap" title={s.browser}>
                {browserName(s.browser)}
                {s.here && <span className="ml-2 font-normal text-soft">this one</span>}
              </th>
              <td className="pr-4 font-mono">{s.address}</td>
              <td className="pr-4 whitespace-nowrap">{at(s.begunAt)}</td>
              <td className="pr-4 whitespace-nowrap">{at(s.seenAt)}</td>
              {onEnd && (
                <td className="py-1 text-right">
                  {!s.here && (
                    <Button className="whitespace-nowrap" onClick={() => onEnd(s.id)}>
                      End it
                    </Button>
                  )}
                </td>
              )}
            </tr>
          ))}
        </tbody>
      </table>
    </Scroll>
  );
}
