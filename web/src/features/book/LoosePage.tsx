import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams, useSearchParams } from 'react-router';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { uuidv7 } from '../../api/uuid';
import type { Filling } from '../../ui/Face';
import { Keeping } from '../../ui/Keeping';
import { ErrorNotice, Loading } from '../../ui/Notice';
import { PlainFace } from '../../ui/PlainFace';
import { ShopFrame } from '../../ui/ShopFrame';
import { usePageKeys } from '../../ui/usePageKeys';
import { FindCavity } from '../library/FindCavity';
import { decisions } from './decisions';
import { LooseCard } from './LooseCard';

/** Loose wires of a plug, one after the other: the place on the face gives the cavity, the cavity the function, the function what to do. */
export function LoosePage() {
  const { id: idText = '', connector = '' } = useParams();
  const id = Number(idText);
  const [search, setSearch] = useSearchParams();
  const client = useQueryClient();
  // Not read from the address each time: that follows a moment later, and the next key must already mean the next wire.
  const [chosen, setChosen] = useState(search.get('cavity'));
  const [side, setSide] = useState<'wire' | 'mating'>('wire');
  const key = keys.loose(id, connector);
  const loose = useQuery({
    queryKey: key,
    queryFn: () => given(api.GET('/api/sheets/{id}/loose/{connector}', { params: { path: { id, connector } } })),
  });
  const decide = useMutation({
    mutationFn: (body: Omit<Schemas['LooseRequest'], 'key' | 'connector'>) =>
      given(
        api.POST('/api/sheets/{id}/loose', {
          params: { path: { id } },
          body: { ...body, key: uuidv7(), connector },
        }),
      ),
    // Drawn at once, so that a key pressed at the next wire means the next wire; sent one after the other.
    scope: { id: `loose ${id} ${connector}` },
    mutationKey: key,
    onMutate: (body) =>
      client.setQueryData<Schemas['LooseView']>(
        key,
        (view) =>
          view && { ...view, cavities: view.cavities.map((c) => (c.cavity === body.cavity ? decidedAs(c, body) : c)) },
      ),
    onSuccess: (view) => client.isMutating({ mutationKey: key }) === 1 && client.setQueryData(key, view),
    onError: () => client.invalidateQueries({ queryKey: key }),
  });
  const cavities = loose.data?.cavities ?? [];
  const at = chosen ?? cavities.find((c) => !c.decided)?.cavity;
  const here = cavities.find((c) => c.cavity === at);
  const done = cavities.filter((c) => c.decided).length;
  const go = (cavity: string | undefined) => {
    if (!cavity) return;
    setChosen(cavity);
    setSearch({ cavity }, { replace: true });
  };
  const nextOpen = (from: string) => {
    const index = cavities.findIndex((c) => c.cavity === from);
    return [...cavities.slice(index + 1), ...cavities.slice(0, index)].find((c) => !c.decided)?.cavity;
  };
  const take = (decision: Schemas['LooseDecision'] | null) => {
    if (!here) return;
    const { advice } = here;
    const as =
      decision === null || decision === advice.decision
        ? advice.lengthMm
        : (decisions[decision]?.mm ?? advice.lengthMm);
    decide.mutate({
      cavity: here.cavity,
      decision,
      label: decision === null ? '' : advice.label,
      lengthMm: decision === null ? 0 : as,
      note: '',
    });
    if (decision !== null) go(nextOpen(here.cavity));
  };
  usePageKeys((event, inField) => {
    if (inField || !here) return;
    const index = cavities.indexOf(here);
    const byKey = Object.entries(decisions).find(([, d]) => d.key === event.key);
    if (event.key === 'Enter') take(here.advice.decision);
    else if (byKey) take(byKey[0] as Schemas['LooseDecision']);
    else if (event.key === 'ArrowDown' || event.key === 'ArrowRight') go(cavities[index + 1]?.cavity);
    else if (event.key === 'ArrowUp' || event.key === 'ArrowLeft') go(cavities[index - 1]?.cavity);
    else if (event.key === 'Backspace') take(null);
    else if (event.key.toLowerCase() === 't') setSide(side === 'wire' ? 'mating' : 'wire');
    else return;
    event.preventDefault();
  });
  const fillings = new Map<string, Filling>(
    cavities.map((c) => [c.cavity, { full: Boolean(c.decided), words: c.function || 'not on the sheet' }]),
  );
  const face = loose.data && (side === 'wire' ? loose.data.wireSide : loose.data.matingFace);
  return (
    <ShopFrame title={`Loose wires of ${connector}`} note={loose.data?.sheet}>
      <div className="grid min-h-0 flex-1 gap-5 p-5 xl:grid-cols-[minmax(20rem,5fr)_6fr]">
        <ErrorNotice error={loose.error ?? decide.error} />
        {loose.isPending && <Loading what="the plug" />}
        {loose.data && face && (
          <>
            <div className="space-y-4">
              <p className="text-lg">
                <b className="text-3xl">{done}</b> of {cavities.length} cavities identified,{' '}
                <b>{cavities.length - done}</b> still open. A full cavity is dealt with.{' '}
                <Keeping pending={decide.isPending} failed={decide.isError} />
              </p>
              <PlainFace
                title={`Seen from the ${side === 'wire' ? 'wire side' : 'mating face'} (T turns)`}
                face={face}
                fillings={fillings}
                ringed={here?.cavity}
                onPick={go}
              />
              <FindCavity familyId={loose.data.familyId} onFound={go} />
              <p className="flex flex-wrap gap-5">
                <Link className="underline" to={`/book/${id}/loose/${connector}/labels`}>
                  Print the temporary labels
                </Link>
                <Link className="underline" to={`/book/${id}?at=${connector}`}>
                  Back to the sheet
                </Link>
              </p>
            </div>
            <div className="min-w-0 space-y-4">
              {here && <LooseCard cavity={here} place={`${connector}:${here.cavity}`} side={side} onTake={take} />}
              <Decided cavities={cavities} at={at} onGo={go} />
            </div>
          </>
        )}
      </div>
    </ShopFrame>
  );
}

/** A cavity as it will be once the server has the decision. */
function decidedAs(
  cavity: Schemas['LooseCavity'],
  { decision, label, lengthMm, note }: Omit<Schemas['LooseRequest'], 'key' | 'connector'>,
): Schemas['LooseCavity'] {
  return { ...cavity, decided: decision && { decision, label, lengthMm, note, by: 'you', at: '' } };
}

function Decided({
  cavities,
  at,
  onGo,
}: {
  cavities: readonly Schemas['LooseCavity'][];
  at: string | undefined;
  onGo: (cavity: string) => void;
}) {
  return (
    <div className="max-h-[26rem] overflow-auto border-2 border-edge bg-card">
      <table className="w-full text-left text-[0.95rem]">
        <thead className="sticky top-0 bg-well text-soft">
          <tr>
            {['Cavity', 'Function', 'Decided', 'Label', 'Keep'].map((h) => (
              <th key={h} scope="col" className="px-2 py-1">
                {h}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {cavities.map((c) => (
            <tr key={c.cavity} className={`border-b border-line ${c.cavity === at ? 'bg-well' : ''}`}>
              <th scope="row" className="px-2">
                <button
                  type="button"
                  className="min-h-8 min-w-8 cursor-pointer text-left font-mono font-semibold underline decoration-line"
                  onClick={() => onGo(c.cavity)}
                >
                  {c.cavity}
                </button>
              </th>
              <td className="px-2">{c.function || <span className="text-soft">not on the sheet</span>}</td>
              <td className="px-2 whitespace-nowrap">
                {c.decided ? decisions[c.decided.decision]?.label : <span className="text-soft">open</span>}
              </td>
              <td className="px-2 font-mono whitespace-nowrap">{c.decided?.label}</td>
              <td className="px-2 whitespace-nowrap">
                {c.decided && (c.decided.lengthMm > 0 ? `${c.decided.lengthMm} mm` : 'none')}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
