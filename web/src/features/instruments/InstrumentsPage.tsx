import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, given } from '../../api/client';
import { keys } from '../../api/keys';
import { Button } from '../../ui/Controls';
import { ErrorNotice, Loading } from '../../ui/Notice';
import { ShopFrame } from '../../ui/ShopFrame';
import { useSession } from '../session/useSession';
import { InstrumentForm } from './InstrumentForm';
import { InstrumentRow } from './InstrumentRow';

/** The shop's meters: what each can tell, where it answers, when it was last held against something known. */
export function InstrumentsPage() {
  const [open, setOpen] = useState<number | 'new' | null>(null);
  const { data: session } = useSession();
  const lead = session?.person?.role === 'lead';
  const meters = useQuery({ queryKey: keys.instruments, queryFn: () => given(api.GET('/api/instruments')) });
  return (
    <ShopFrame title="Instruments">
      <div className="mx-auto w-full max-w-5xl space-y-4 p-4 sm:p-6">
        <ErrorNotice error={meters.error} />
        {meters.isPending && <Loading what="the instruments" />}
        {meters.data?.length === 0 && <p className="text-lg">The shop has no meter yet.</p>}
        {meters.data && (
          <ul className="grid gap-2" aria-label="Meters">
            {meters.data.map((m) => (
              <li key={m.id} className="border-2 border-edge bg-card">
                <InstrumentRow
                  meter={m}
                  open={open === m.id}
                  onOpen={lead ? () => setOpen(open === m.id ? null : m.id) : null}
                />
                {open === m.id && <InstrumentForm key={m.version} meter={m} onDone={() => setOpen(null)} />}
              </li>
            ))}
          </ul>
        )}
        {!lead && <p className="text-soft">A lead enters and changes meters; anybody can try one.</p>}
        {lead && open !== 'new' && (
          <Button kind="main" onClick={() => setOpen('new')}>
            Enter a meter
          </Button>
        )}
        {open === 'new' && (
          <section aria-label="A new meter" className="border-2 border-edge bg-card">
            <InstrumentForm meter={null} onDone={() => setOpen(null)} />
          </section>
        )}
      </div>
    </ShopFrame>
  );
}
