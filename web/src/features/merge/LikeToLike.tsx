import { useState } from 'react';
import type { Schemas } from '../../api/client';
import { Button, Key } from '../../ui/Controls';
import { usePageKeys } from '../../ui/usePageKeys';
import type { Decisions } from './MergePage';

type View = Schemas['MergeView'];

const trusts: Record<Schemas['MatchTrust'], string> = {
  sure: 'says the same',
  likely: 'likely, look',
  ask: 'not clear, choose',
};

/** Each line of the left with the partner that is proposed: accepted, refused or chosen by one key. Nothing is joined without a person. */
export function LikeToLike({ view, onDecide }: { view: View; onDecide: (d: Decisions) => void }) {
  const d = view.decisions;
  const rights = new Map(view.right.map((l) => [l.place, l]));
  const lefts = new Map(view.left.map((l) => [l.place, l]));
  const paired = new Map(d.pairs.map((p) => [p.left, p.right]));
  const used = new Set(d.pairs.map((p) => p.right));
  const lonely = new Set(d.left.map((l) => l.place));
  const open = view.proposals.filter(
    (p) =>
      p.candidates.length > 0 &&
      !paired.has(p.place) &&
      !lonely.has(p.place) &&
      p.candidates.some((c) => !used.has(c.place) && !refused(d, p.place, c.place)),
  );
  const [at, setAt] = useState(open[0]?.place ?? '');
  const index = Math.max(
    0,
    open.findIndex((p) => p.place === at),
  );
  const here = open[index];
  const candidates = here?.candidates.filter((c) => !used.has(c.place) && !refused(d, here.place, c.place)) ?? [];
  const accept = (right: string | undefined) => {
    if (!here || !right) return;
    setAt(open[index + 1]?.place ?? open[index - 1]?.place ?? '');
    onDecide({
      ...d,
      pairs: [...d.pairs, { left: here.place, right }],
      right: d.right.filter((r) => r.place !== right),
    });
  };
  const refuse = () => {
    if (!here) return;
    setAt(open[index + 1]?.place ?? open[index - 1]?.place ?? '');
    onDecide({ ...d, apart: [...d.apart, ...candidates.map((c) => ({ left: here.place, right: c.place }))] });
  };
  const sure = open.filter((p) => p.trust === 'sure' && p.proposed && !used.has(p.proposed));
  usePageKeys((event, inField) => {
    if (inField) return;
    const n = Number(event.key);
    if (event.key === 'Enter') accept(candidates[0]?.place);
    else if (n >= 1 && n <= candidates.length) accept(candidates[n - 1]?.place);
    else if (event.key === 'Backspace' || event.key === 'Delete') refuse();
    else if (event.key === 'ArrowDown') setAt(open[index + 1]?.place ?? at);
    else if (event.key === 'ArrowUp') setAt(open[index - 1]?.place ?? at);
    else return;
    event.preventDefault();
  });
  return (
    <div className="grid min-h-0 gap-5 lg:grid-cols-[5fr_4fr]">
      <section aria-label="Proposal" className="space-y-3">
        {sure.length > 0 && (
          <div className="flex flex-wrap items-center gap-3 border-2 border-edge bg-card p-3">
            <span className="flex-1">
              <b>{sure.length}</b> lines say the same on both sides, alone of their kind, on the same kind of circuit.
            </span>
            <Button
              onClick={() =>
                onDecide({
                  ...d,
                  pairs: [...d.pairs, ...sure.map((p) => ({ left: p.place, right: p.proposed ?? '' }))],
                })
              }
            >
              Accept these {sure.length}
            </Button>
          </div>
        )}
        {here ? (
          <div className="space-y-3 border-2 border-copper bg-card p-4">
            <p className="text-soft">
              {index + 1} of {open.length} open · {trusts[here.trust]}
            </p>
            <p className="text-3xl font-bold">{lefts.get(here.place)?.function}</p>
            <p>
              <span className="font-mono text-xl text-copper">{here.place}</span>{' '}
              <span className="text-soft">{lefts.get(here.place)?.role}</span>
            </p>
            <ol className="space-y-2">
              {candidates.map((c, i) => (
                <li key={c.place}>
                  <button
                    type="button"
                    onClick={() => accept(c.place)}
                    className={`grid min-h-12 w-full cursor-pointer grid-cols-[auto_1fr_auto] items-center gap-3 border-2 px-3 py-1 text-left ${i === 0 ? 'border-copper bg-well' : 'border-edge bg-paper'}`}
                  >
                    <Key>{i === 0 ? 'Enter' : i + 1}</Key>
                    <span>
                      <b className="text-lg">{c.function}</b> <span className="font-mono">{c.place}</span>
                      <span className="block text-sm text-soft">
                        {rights.get(c.place)?.role}; {c.reason}
                      </span>
                    </span>
                    <span className="font-mono text-soft">{Math.round(c.score * 100)} %</span>
                  </button>
                </li>
              ))}
            </ol>
            <Button onClick={refuse}>
              None of these <Key>Backspace</Key>
            </Button>
          </div>
        ) : (
          <p className="border-2 border-dashed border-edge p-8 text-center text-lg">
            No proposal is open. Go on to what is left: {view.progress.lonelyOpen} lines wait for a decision.
          </p>
        )}
      </section>
      <section aria-label="Joined" className="min-w-0">
        <h2 className="mb-1 text-xl font-bold">Joined: {d.pairs.length}</h2>
        <ul className="max-h-[34rem] overflow-y-auto border-2 border-edge bg-card">
          {[...d.pairs].reverse().map((p) => (
            <li
              key={p.left}
              className="grid grid-cols-[1fr_1fr_auto] items-center gap-2 border-b border-line px-3 py-1"
            >
              <span>
                <span className="font-mono">{p.left}</span> {lefts.get(p.left)?.function}
              </span>
              <span>
                <span className="font-mono">{p.right}</span> {rights.get(p.right)?.function}
              </span>
              <button
                type="button"
                className="min-h-9 cursor-pointer px-2 underline"
                aria-label={`Part ${p.left} and ${p.right} again`}
                onClick={() => onDecide({ ...d, pairs: d.pairs.filter((x) => x.left !== p.left) })}
              >
                part
              </button>
            </li>
          ))}
        </ul>
      </section>
    </div>
  );
}

const refused = (d: Decisions, left: string, right: string) =>
  d.apart.some((a) => a.left === left && a.right === right);
