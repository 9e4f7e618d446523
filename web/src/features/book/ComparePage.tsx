import { useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { useSearchParams } from 'react-router';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { ErrorNotice, Loading } from '../../ui/Notice';
import { ShopFrame } from '../../ui/ShopFrame';
import { PinoutSelect, usePinouts } from './PinoutSelect';
import { Scroll } from '../../ui/Scroll';

type Kind = Schemas['ComparedKind'];

const kinds: [Kind, string][] = [
  ['moved', 'moved'],
  ['recoloured', 'other colour or section'],
  ['only-left', 'only left'],
  ['only-right', 'only right'],
  ['same', 'same'],
];

const levels: Record<Schemas['DamageLevel'], string> = {
  fire: 'a wire may burn',
  harm: 'a part may die',
  'no-function': 'something does not work',
  none: 'nothing',
};

/** Two sheets, looms or revisions side by side, and the plugs that fit each other’s place without being the same. */
export function ComparePage() {
  const [search, setSearch] = useSearchParams();
  const [left, right] = [search.get('left') ?? '', search.get('right') ?? ''];
  const pinouts = usePinouts();
  const [shown, setShown] = useState<ReadonlySet<Kind>>(new Set(['moved', 'recoloured', 'only-left', 'only-right']));
  const [find, setFind] = useState('');
  const asked = useDeferredValue(find);
  const flip = (kind: Kind) =>
    setShown((now) => {
      const next = new Set(now);
      if (!next.delete(kind)) next.add(kind);
      return next;
    });
  const set = (side: 'left' | 'right', key: string) =>
    setSearch((now) => {
      now.set(side, key);
      return now;
    });
  const compared = useQuery({
    queryKey: keys.compare(left, right, [...shown].sort(), asked),
    queryFn: () =>
      given(api.GET('/api/compare', { params: { query: { left, right, kinds: [...shown], find: asked } } })),
    enabled: left !== '' && right !== '',
    // What was asked before stays until the next answer is there; another pair is another question.
    placeholderData: (before, query) =>
      query?.queryKey[1] === left && query.queryKey[2] === right ? before : undefined,
  });
  return (
    <ShopFrame title="Compare" note="two sheets, two looms, two revisions">
      <div className="space-y-5 p-5">
        <div className="grid max-w-5xl gap-4 sm:grid-cols-2">
          <PinoutSelect label="Left" value={left} entries={pinouts.data ?? []} onChange={(k) => set('left', k)} />
          <PinoutSelect label="Right" value={right} entries={pinouts.data ?? []} onChange={(k) => set('right', k)} />
        </div>
        <ErrorNotice error={pinouts.error ?? compared.error} />
        {compared.isLoading && <Loading what="both" />}
        {!left || !right ? (
          <p className="max-w-3xl text-lg text-soft">
            Choose two: where each function sits on both, what moved, what only one has, and where two plugs fit each
            other’s place without being the same.
          </p>
        ) : (
          compared.data && <Compared view={compared.data} shown={shown} onFlip={flip} find={find} onFind={setFind} />
        )}
      </div>
    </ShopFrame>
  );
}

function Compared({
  view,
  shown,
  onFlip,
  find,
  onFind,
}: {
  view: Schemas['CompareView'];
  shown: ReadonlySet<Kind>;
  onFlip: (kind: Kind) => void;
  find: string;
  onFind: (text: string) => void;
}) {
  const { lines } = view;
  return (
    <>
      <Twins twins={view.twins} />
      <More count={view.moreTwins} of="pairs of plugs that fit and are not the same" />
      <section aria-label="Functions" className="space-y-2">
        <div className="flex flex-wrap items-center gap-2">
          {kinds.map(([kind, label]) => (
            <button
              key={kind}
              type="button"
              aria-pressed={shown.has(kind)}
              onClick={() => onFlip(kind)}
              className={`min-h-11 cursor-pointer border-2 px-3 font-bold ${shown.has(kind) ? 'border-copper bg-well' : 'border-line text-soft'}`}
            >
              {view.counts.find((c) => c.kind === kind)?.count ?? 0} {label}
            </button>
          ))}
          <input
            aria-label="Find in the comparison"
            placeholder="Function or place …"
            value={find}
            onChange={(e) => onFind(e.target.value)}
            className="min-h-11 w-64 border-2 border-edge bg-card px-3"
          />
        </div>
        <Scroll label="Compared functions" className="max-h-[34rem] border-2 border-edge bg-card">
          <table className="w-full text-left text-[0.95rem]">
            <thead className="sticky top-0 bg-well text-soft">
              <tr>
                <th scope="col" className="px-2 py-1">
                  What
                </th>
                <th scope="col" className="px-2" colSpan={2}>
                  {view.left}
                </th>
                <th scope="col" className="px-2" colSpan={2}>
                  {view.right}
                </th>
              </tr>
            </thead>
            <tbody>
              {lines.map((l, i) => (
                <tr key={i} className="border-b border-line align-top">
                  <td className="px-2 py-1 font-bold whitespace-nowrap">{kinds.find(([k]) => k === l.kind)?.[1]}</td>
                  <Pin pin={l.left} />
                  <Pin pin={l.right} />
                </tr>
              ))}
            </tbody>
          </table>
          <More count={view.moreLines} of="lines: choose kinds or search to see them" />
          {lines.length === 0 && <p className="p-6 text-center text-soft">Nothing of the chosen kinds.</p>}
        </Scroll>
      </section>
      {view.changes.length > 0 && (
        <section aria-label="Everything that differs">
          <h2 className="mb-1 text-xl font-bold">Everything that differs between the two looms</h2>
          <Scroll label="All changes" className="max-h-80">
            <ul className="list-disc pl-6">
              {view.changes.map((c, i) => (
                <li key={i}>{c.sentence}</li>
              ))}
            </ul>
            <More count={view.moreChanges} of="changes" />
          </Scroll>
        </section>
      )}
    </>
  );
}

/** How much more there is than is shown. */
function More({ count, of }: { count: number; of: string }) {
  return count > 0 ? (
    <p className="p-2 font-bold">
      and {count.toLocaleString('en')} more {of}
    </p>
  ) : null;
}

function Pin({ pin }: { pin: Schemas['ComparedPin'] | null }) {
  if (!pin)
    return (
      <td colSpan={2} className="px-2 py-1 text-soft">
        —
      </td>
    );
  return (
    <>
      <td className="px-2 py-1 font-mono whitespace-nowrap">
        {pin.connector}:{pin.cavity}
      </td>
      <td className="px-2 py-1">
        {pin.function || 'not named'}
        <span className="block text-sm text-soft">
          {[pin.role, pin.colour, pin.section].filter(Boolean).join(', ')}
        </span>
      </td>
    </>
  );
}

function Twins({ twins }: { twins: readonly Schemas['FalseTwin'][] }) {
  if (twins.length === 0) return null;
  return (
    <section aria-label="Fits, but is not the same" className="space-y-3">
      {twins.map((t) => (
        <details
          key={`${t.left}${t.right}`}
          open={t === twins[0]}
          className={`border-l-8 bg-card p-3 ${t.worst === 'no-function' ? 'border-doubt' : 'border-fail'}`}
        >
          <summary className="cursor-pointer text-lg">
            <b>
              {t.left} fits where {t.right} belongs, and is not the same
            </b>{' '}
            <span className="text-soft">
              {t.family}; at worst {levels[t.worst]}
            </span>
          </summary>
          <Scroll label={`Cavities of ${t.left} and ${t.right}`} className="mt-2 max-h-72">
            <ul>
              {t.pins.map((p) => (
                <li
                  key={p.cavity}
                  className="grid grid-cols-[4rem_minmax(0,1fr)_minmax(0,1.5fr)] gap-3 border-t border-line py-1"
                >
                  <span className="font-mono font-bold">{p.cavity}</span>
                  <span>
                    {p.left} <span className="text-soft">against</span> {p.right}
                  </span>
                  <span className={p.damage.level === 'no-function' ? 'text-soft' : 'font-bold text-fail'}>
                    {p.damage.sentence}
                  </span>
                </li>
              ))}
            </ul>
          </Scroll>
        </details>
      ))}
    </section>
  );
}
