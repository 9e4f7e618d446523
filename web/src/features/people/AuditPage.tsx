import { useInfiniteQuery } from '@tanstack/react-query';
import { api, given } from '../../api/client';
import { keys } from '../../api/keys';
import { Button } from '../../ui/Controls';
import { ErrorNotice, Loading } from '../../ui/Notice';
import { Scroll } from '../../ui/Scroll';
import { TableHead } from '../../ui/TableHead';
import { PeopleFrame } from './PeopleFrame';

const words: Record<string, string> = {
  'signed-in': 'Came in',
  'sign-in-refused': 'Not let in',
  'signed-out': 'Left',
  'session-ended': 'Signed out by',
  'account-made': 'Account made by',
  'account-changed': 'Account changed by',
  'link-made': 'Link made by',
  'password-set': 'Password set',
  'right-refused': 'Refused: not within the role',
};

const refusals = new Set(['sign-in-refused', 'right-refused']);

/** Sign-ins, refusals and changes of rights, the newest first; nobody can change or shorten it. */
export function AuditPage() {
  const list = useInfiniteQuery({
    queryKey: keys.audit,
    queryFn: ({ pageParam }) =>
      given(api.GET('/api/audit', { params: { query: pageParam === null ? {} : { before: pageParam } } })),
    initialPageParam: null as number | null,
    getNextPageParam: (last) => last.before,
    gcTime: 0,
  });
  const lines = list.data?.pages.flatMap((p) => p.lines) ?? [];
  return (
    <PeopleFrame title="Who came in">
      <p className="text-soft">The newest first. This list only grows: nobody can change it or take from it.</p>
      <ErrorNotice error={list.error} />
      {list.isPending && <Loading what="the list" />}
      {lines.length > 0 && (
        <Scroll label="What was done">
          <table className="w-full border-2 border-edge bg-card text-left">
            <TableHead names={['When', 'Who', 'What', 'By', 'From', 'More']} cell="px-3 py-1" />
            <tbody>
              {lines.map((l) => (
                <tr key={l.id} className="border-b border-line">
                  <td className="px-3 py-1 whitespace-nowrap">
                    {new Date(l.at).toLocaleString(undefined, { dateStyle: 'medium', timeStyle: 'medium' })}
                  </td>
                  <th scope="row" className="px-3 font-bold whitespace-nowrap">
                    {l.person ?? 'a stranger'}
                  </th>
                  <td className={`px-3 ${refusals.has(l.kind) ? 'font-bold text-fail' : ''}`}>
                    {words[l.kind] ?? l.kind}
                  </td>
                  <td className="px-3 whitespace-nowrap">{l.by && l.by !== l.person ? l.by : ''}</td>
                  <td className="px-3 font-mono text-sm">{l.address}</td>
                  <td className="px-3 text-soft">{l.words}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </Scroll>
      )}
      {list.hasNextPage && (
        <Button onClick={() => void list.fetchNextPage()} disabled={list.isFetchingNextPage}>
          Older
        </Button>
      )}
    </PeopleFrame>
  );
}
