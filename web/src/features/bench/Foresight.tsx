import type { Schemas } from '../../api/client';
import { Notice } from '../../ui/Notice';
import { Scroll } from '../../ui/Scroll';
import { TableHead } from '../../ui/TableHead';

/** Before the first touch: what this meter cannot see, and how long it takes. */
export function Foresight({ plan }: { plan: Schemas['PlanView'] }) {
  return (
    <section aria-label="What this run will show" className="border-2 border-edge bg-card p-4">
      {plan.against && <Notice tone="wrong">{plan.against}</Notice>}
      <p className="text-lg">
        <b>{plan.steps} steps</b>, about {plan.time}
        {plan.kinds !== '' && `; ${plan.kinds}`}.
      </p>
      <p className="text-soft">
        No order can take less than {plan.least}; down the pinout the same proof takes {plan.inPinOrder}. {plan.pace}
      </p>
      <p>{plan.sight}</p>
      {plan.unproven.length > 0 && <p className="mt-1 text-soft">The pack will say of it: {plan.unproven.join(' ')}</p>}
      {plan.weak > 0 && (
        <details className="mt-2">
          <summary className="min-h-10 cursor-pointer py-2 font-bold">
            Which pairs, and what it would miss there
            {plan.weakPairs.length < plan.weak && `: the weakest ${plan.weakPairs.length} of ${plan.weak}`}
          </summary>
          <Scroll label="Pairs that notice little" className="max-h-80">
            <table className="w-full text-left">
              <TableHead names={['Pair', 'Circuit', 'Must read', 'Surely noticed', 'Under load']} />
              <tbody>
                {plan.weakPairs.map((p) => (
                  <tr key={`${p.black} ${p.red}`} className="border-b border-line">
                    <th scope="row" className="py-1 pr-3 font-mono font-semibold whitespace-nowrap">
                      {p.black} – {p.red}
                    </th>
                    <td className="pr-3">{p.circuit}</td>
                    <td className="pr-3 whitespace-nowrap">{p.limits}</td>
                    <td className="pr-3 whitespace-nowrap">{p.misses}</td>
                    <td className="whitespace-nowrap">{p.underLoad}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </Scroll>
        </details>
      )}
    </section>
  );
}
