import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, given } from '../../api/client';
import { keys } from '../../api/keys';
import { ErrorNotice, Loading } from '../../ui/Notice';
import { AccountForm } from './AccountForm';
import { AccountRow } from './AccountRow';
import { LinkNotice, type Link } from './LinkNotice';
import { NewAccount } from './NewAccount';
import { PeopleFrame } from './PeopleFrame';

/** Who has access, and in which role: a lead's. */
export function PeoplePage() {
  const [open, setOpen] = useState<string | null>(null);
  const [link, setLink] = useState<Link | null>(null);
  const accounts = useQuery({ queryKey: keys.accounts, queryFn: () => given(api.GET('/api/accounts')) });
  return (
    <PeopleFrame title="People">
      <ErrorNotice error={accounts.error} />
      {accounts.isPending && <Loading what="the people" />}
      {link && <LinkNotice link={link} onDone={() => setLink(null)} />}
      {accounts.data && (
        <ul className="grid gap-2" aria-label="Accounts">
          {accounts.data.map((a) => (
            <li key={a.id} className="border-2 border-edge bg-card">
              <AccountRow account={a} open={open === a.id} onOpen={() => setOpen(open === a.id ? null : a.id)} />
              {open === a.id && <AccountForm key={a.version} account={a} onLink={setLink} />}
            </li>
          ))}
        </ul>
      )}
      <NewAccount onLink={setLink} />
    </PeopleFrame>
  );
}
