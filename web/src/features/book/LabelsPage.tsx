import { useQuery } from '@tanstack/react-query';
import { Link, useParams } from 'react-router';
import { api, given } from '../../api/client';
import { keys } from '../../api/keys';
import { Button } from '../../ui/Controls';
import { ErrorNotice, Loading } from '../../ui/Notice';
import { decisions } from './decisions';

/** Temporary labels of a plug's loose wires, ready for the printer: flags that fold over the wire, both sides the same. */
export function LabelsPage() {
  const { id: idText = '', connector = '' } = useParams();
  const id = Number(idText);
  const loose = useQuery({
    queryKey: keys.loose(id, connector),
    queryFn: () => given(api.GET('/api/sheets/{id}/loose/{connector}', { params: { path: { id, connector } } })),
  });
  const labels = (loose.data?.cavities ?? []).flatMap((c) =>
    c.decided && c.decided.decision !== 'cut-back' ? [c.decided] : [],
  );
  return (
    <main className="min-h-screen bg-white p-6 text-black">
      <div className="mb-4 flex items-center gap-5 print:hidden">
        <h1 className="text-xl font-bold">Labels for {connector}</h1>
        <Button kind="main" onClick={() => print()} disabled={labels.length === 0}>
          Print
        </Button>
        <Link className="underline" to={`/book/${id}/loose/${connector}`}>
          Back to the wires
        </Link>
        <span>{labels.length} flags; cut along the lines, fold in the middle over the wire.</span>
      </div>
      <ErrorNotice error={loose.error} />
      {loose.isPending && <Loading what="the labels" />}
      {loose.isSuccess && labels.length === 0 && (
        <p>No wire of this plug has been decided about yet, or all are cut back.</p>
      )}
      <ul aria-label="Labels" className="grid grid-cols-2 gap-0">
        {labels.map((l) => (
          <li key={l.label} className="grid h-[14mm] grid-cols-2 border border-dashed border-neutral-600">
            {[0, 1].map((half) => (
              <span
                key={half}
                className="flex flex-col justify-center overflow-hidden border-r border-dotted border-neutral-600 px-2 font-mono leading-tight last:border-r-0"
              >
                <b className="text-[3.4mm] whitespace-nowrap">{l.label}</b>
                <span className="text-[2.6mm]">{decisions[l.decision]?.label}</span>
              </span>
            ))}
          </li>
        ))}
      </ul>
    </main>
  );
}
