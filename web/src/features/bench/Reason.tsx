import { useQuery } from '@tanstack/react-query';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { Button } from '../../ui/Controls';
import { ErrorNotice, Loading } from '../../ui/Notice';
import { Sheet } from '../../ui/Sheet';
import { TableHead } from '../../ui/TableHead';

/** How a step's limits came about: which wires, contacts and temperature. */
export function Reason({
  run,
  step,
  onClose,
}: {
  run: Schemas['RunView'];
  step: Schemas['StepView'];
  onClose: () => void;
}) {
  const reason = useQuery({
    queryKey: keys.reason(run.id, step.number),
    queryFn: () =>
      given(api.GET('/api/runs/{id}/steps/{step}/reason', { params: { path: { id: run.id, step: step.number } } })),
    staleTime: Infinity,
  });
  return (
    <Sheet title={`Why ${step.limitsText}`} onClose={onClose}>
      <ErrorNotice error={reason.error} />
      {reason.isPending && <Loading what="the reasons" />}
      {reason.data && (
        <>
          <p className="mb-4 text-lg">{reason.data.sentence}</p>
          {reason.data.parts.length > 0 && (
            <table className="w-full text-left">
              <TableHead names={['Wire', 'Way', 'Section', 'Length', 'Alone', 'Current', 'Adds']} />
              <tbody>
                {reason.data.parts.map((p) => (
                  <tr key={p.wire} className="border-b border-line">
                    <th scope="row" className="py-1 pr-3 font-mono font-semibold">
                      {p.wire}
                    </th>
                    <td className="pr-3">
                      {p.from} – {p.to}
                    </td>
                    <td className="pr-3 whitespace-nowrap">{p.section}</td>
                    <td className="pr-3 whitespace-nowrap">{p.lengthMm} mm</td>
                    <td className="pr-3 whitespace-nowrap">{p.own}</td>
                    <td className="pr-3">{p.share}</td>
                    <td className="whitespace-nowrap">{p.adds}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          {step.noticedText && <p className="mt-4">{step.noticedText}</p>}
          {reason.data.loadTest && (
            <p className="mt-4 border-l-4 border-copper pl-3">
              <b>Test it under load.</b> {reason.data.loadTest}
            </p>
          )}
        </>
      )}
      <Button className="mt-4" onClick={onClose}>
        Back to the bench
      </Button>
    </Sheet>
  );
}
