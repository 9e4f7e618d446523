import { useCallback, useEffect, useMemo, useState } from 'react';
import { Navigate, useSearchParams } from 'react-router';
import type { Schemas } from '../../api/client';
import { Face, sideWords, type Side } from '../../ui/Face';
import { Level, shownWords, type Shown } from '../../ui/Level';
import { ErrorNotice, Loading, Notice } from '../../ui/Notice';
import { useJob, type Drawn } from '../jobs/JobShell';
import { LoomNav } from '../loom/LoomNav';
import { Currents } from './Currents';
import { FunctionList } from './FunctionList';
import { KeyBar } from './KeyBar';
import { PointTable } from './PointTable';
import { ExplanationPanel } from './ExplanationPanel';
import { useLoomState, useSituation, useExplanation } from './useShows';

/** What every point, wire and function shows with the key in a position. */
export function ShowsPage() {
  const { job, loom } = useJob();
  return loom ? <Shows job={job.id} loom={loom} /> : <Navigate to={`/jobs/${job.id}/import`} replace />;
}

const shownKinds: [Shown, keyof Schemas['ConnectorStateView']][] = [
  ['supply', 'supply'],
  ['five-volts', 'fiveVolts'],
  ['between', 'between'],
  ['ground', 'ground'],
  ['floats', 'floats'],
];

function Shows({ job, loom }: { job: number; loom: Schemas['LoomView'] }) {
  const { at, draw } = useJob();
  const [search, setSearch] = useSearchParams();
  const { key, set, turn, toggle } = useSituation();
  const state = useLoomState(loom.revisionId, key, set);
  const cavity = search.get('cavity');
  const connector = loom.connectors.find((c) => c.ref === at);
  const point = connector?.pins.some((p) => p.cavity === cavity && p.wires.length > 0)
    ? `${connector.ref}:${cavity}`
    : null;
  const explanation = useExplanation(loom.revisionId, key, set, point);
  const points = useMemo(() => new Map(state.data?.points.map((p) => [p.point, p])), [state.data]);
  const wires = useMemo(() => new Map(state.data?.wires.map((w) => [w.wire, w])), [state.data]);
  const drawn = useMemo(
    (): Drawn | null => (state.data ? { badges: badgesOf(state.data), paths: explanation.data?.stem ?? [] } : null),
    [state.data, explanation.data],
  );
  useEffect(() => draw(drawn), [draw, drawn]);
  useEffect(() => () => draw(null), [draw]);
  const pick = useCallback(
    (to: string) =>
      setSearch((now) => {
        now.set('cavity', to);
        return now;
      }),
    [setSearch],
  );
  return (
    <div className="flex flex-1 flex-col">
      <LoomNav job={job} />
      <KeyBar state={state.data} at={key} set={set} onTurn={turn} onToggle={toggle} />
      <ErrorNotice error={state.error ?? explanation.error} />
      {state.isPending && <Loading what="the state" />}
      {state.data && (
        <>
          <Odd state={state.data} />
          <div className="grid grid-cols-1 gap-6 p-4 lg:grid-cols-[1fr_24rem] xl:grid-cols-[1fr_26rem]">
            <div className="min-w-0 space-y-6">
              {connector ? (
                <Here connector={connector} points={points} cavity={cavity} onPick={pick} />
              ) : (
                <p className="text-lg">
                  Choose a connector on the stem, then a cavity: what a meter and a lamp show there, and why. <Legend />
                </p>
              )}
              <Currents loom={loom} wires={wires} at={at} />
            </div>
            <div className="min-w-0">
              {point ? (
                explanation.data ? (
                  <ExplanationPanel explanation={explanation.data} />
                ) : (
                  <Loading what="the reason" />
                )
              ) : (
                <FunctionList functions={state.data.functions} />
              )}
            </div>
          </div>
        </>
      )}
    </div>
  );
}

function Legend() {
  return (
    <span className="inline-flex flex-wrap gap-x-4 text-base text-soft">
      {shownKinds.map(([shown]) => (
        <span key={shown} className="inline-flex items-center gap-1">
          <Level shown={shown} /> {shownWords[shown]}
        </span>
      ))}
    </span>
  );
}

function Odd({ state }: { state: Schemas['StateView'] }) {
  if (!state.noState && state.chatters.length === 0 && state.notes.length === 0) return null;
  return (
    <div className="space-y-2 px-4 pt-3">
      {state.noState && <Notice tone="wrong">{state.noState}</Notice>}
      {state.chatters.length > 0 && (
        <Notice tone="wrong">
          Never comes to rest: {state.chatters.join(', ')}. It lets go of what holds it and comes back; the voltages are
          those of one of the moments.
        </Notice>
      )}
      {state.notes.length > 0 && (
        <ul className="text-soft">
          {state.notes.map((n) => (
            <li key={n}>{n}</li>
          ))}
        </ul>
      )}
    </div>
  );
}

/** One connector: its face with a gauge in each cavity, and its cavities as a table. */
function Here({
  connector,
  points,
  cavity,
  onPick,
}: {
  connector: Schemas['ConnectorView'];
  points: ReadonlyMap<string, Schemas['PointView']>;
  cavity: string | null;
  onPick: (cavity: string) => void;
}) {
  const [side, setSide] = useState<Side>('wire');
  const levels = useMemo(
    () =>
      new Map(
        connector.pins.flatMap((p) => {
          const point = points.get(`${connector.ref}:${p.cavity}`);
          return point ? [[p.cavity, { shown: point.shown, share: point.level, text: point.text }] as const] : [];
        }),
      ),
    [connector, points],
  );
  return (
    <section aria-label={connector.title} className="space-y-3">
      <h2 className="text-2xl font-bold">
        {connector.ref} <span className="text-lg font-normal text-soft">{connector.title}</span>
      </h2>
      <button
        type="button"
        className="min-h-9 cursor-pointer text-soft underline hover:text-ink"
        onClick={() => setSide(side === 'wire' ? 'mating' : 'wire')}
      >
        Seen from the {sideWords[side]}; turn
      </button>
      <Face connector={connector} side={side} ringed={cavity ?? undefined} onPick={onPick} levels={levels} />
      <Legend />
      <PointTable connector={connector} points={points} chosen={cavity} onPick={onPick} />
    </section>
  );
}

function badgesOf(state: Schemas['StateView']): Drawn['badges'] {
  return new Map(
    state.connectors.map((c) => {
      const there = shownKinds.filter(([, count]) => Number(c[count]) > 0);
      return [
        c.connector,
        {
          drawn: there.map(([shown]) => <Level key={shown} shown={shown} height={13} />),
          words: there.map(([shown, count]) => `${c[count]} ${shownWords[shown]}`).join(', '),
        },
      ];
    }),
  );
}
