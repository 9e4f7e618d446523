import type { Problem, Schemas } from '../../api/client';
import { lists, type ListName } from './document';
import { Button } from '../../ui/Controls';
import { Scroll } from '../../ui/Scroll';

/** What keeps the draft from release, each leading to its table; what is only doubtful below. */
export function ProblemList({
  problems,
  warnings,
  offers,
  empty,
  onGo,
  onTake,
}: {
  problems: readonly Problem[];
  warnings: readonly Problem[];
  /** Connectors and pins that wires name and that are not there. */
  offers: readonly Schemas['EndOfferView'][];
  empty: boolean;
  onGo: (list: ListName) => void;
  onTake: (offers: readonly Schemas['EndOfferView'][]) => void;
}) {
  if (empty) return <p className="text-sm text-soft">No wire yet: type or paste the first one.</p>;
  if (problems.length === 0 && warnings.length === 0) {
    return <p className="text-sm text-pass">Nothing wrong: this draft can be released.</p>;
  }
  return (
    <>
      {offers.length > 0 && (
        <div role="group" aria-label="What the wires name and is not there" className="flex flex-wrap gap-2">
          {offers.slice(0, 6).map((o) => (
            <Button key={o.words} onClick={() => onTake([o])}>
              {o.words}
            </Button>
          ))}
          {offers.length > 1 && <Button onClick={() => onTake(offers)}>Make all {offers.length}</Button>}
        </div>
      )}
      <details className="border-2 border-edge bg-card px-3 py-1" open={problems.length > 0 && problems.length < 4}>
        <summary className="min-h-8 cursor-pointer leading-8">
          <b className={problems.length > 0 ? 'text-fail' : 'text-pass'}>
            {problems.length === 0 ? 'No problem' : problems.length === 1 ? '1 problem' : `${problems.length} problems`}
          </b>
          {warnings.length > 0 && <span className="text-soft">, {warnings.length} to think about</span>}
        </summary>
        <Scroll label="All problems" className="max-h-40">
          <ul aria-label="Problems of the draft" className="pb-1 text-sm">
            {[...problems.map((p) => ({ ...p, grave: true })), ...warnings.map((p) => ({ ...p, grave: false }))]
              .slice(0, 300)
              .map((p, i) => (
                <li key={i} className="flex gap-3 border-t border-line py-0.5">
                  <Place at={p.at} onGo={onGo} />
                  <span className={p.grave ? '' : 'text-soft'}>{p.message}</span>
                </li>
              ))}
          </ul>
        </Scroll>
      </details>
    </>
  );
}

function Place({ at, onGo }: { at: string; onGo: (list: ListName) => void }) {
  const [, list, index, field] = at.split('/');
  const known = lists.find((l) => l === list);
  if (!known || index === undefined)
    return <span className="w-44 shrink-0 font-mono text-soft">{at || 'whole loom'}</span>;
  return (
    <button
      type="button"
      className="min-h-6 w-44 shrink-0 cursor-pointer text-left font-mono underline"
      onClick={() => onGo(known)}
    >
      {known} {Number(index) + 1}
      {field ? `, ${field}` : ''}
    </button>
  );
}
