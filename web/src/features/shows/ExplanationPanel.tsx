import type { Schemas } from '../../api/client';
import { Level, shownWords } from '../../ui/Level';

type Part = Schemas['PathPartView'];

/** One point: what three probes show there, the sentence that explains it, and the way of the current. */
export function ExplanationPanel({ explanation }: { explanation: Schemas['ExplanationView'] }) {
  return (
    <section aria-label={`What ${explanation.point} shows`} className="space-y-4">
      <h2 className="flex items-center gap-3 text-2xl font-bold">
        <Level shown={explanation.shown} height={30} />
        <span>
          {explanation.point} <span className="text-lg font-normal text-soft">{shownWords[explanation.shown]}</span>
        </span>
      </h2>
      <dl className="grid grid-cols-3 gap-2">
        {explanation.answers.map((a) => (
          <div key={a.probe} className="border-2 border-edge bg-card p-2">
            <dt className="text-sm text-soft">{a.probe}</dt>
            <dd className="text-xl leading-tight font-bold">{a.words}</dd>
            <dd className="text-sm text-soft">{a.detail}</dd>
          </div>
        ))}
      </dl>
      {explanation.sentences.map((s) => (
        <p key={s} className="text-lg">
          {s}
        </p>
      ))}
      <Way title="From the source to here" parts={explanation.fromSource} />
      <Way title="From here on" parts={explanation.toGround} />
    </section>
  );
}

function Way({ title, parts }: { title: string; parts: readonly Part[] }) {
  if (parts.length === 0) return null;
  return (
    <div>
      <h3 className="font-bold">{title}</h3>
      <ol className="text-[0.95rem]">
        {parts.map((p, i) => (
          <li key={i} className="grid grid-cols-[3.5rem_1fr_auto] gap-2 border-t border-line py-0.5">
            <span className="font-mono font-semibold">{p.wire ?? ''}</span>
            <span>
              {p.title} {p.wire && <span className="text-soft">{`${p.from} → ${p.to}`}</span>}
            </span>
            <span className="font-mono whitespace-nowrap">{p.amps}</span>
          </li>
        ))}
      </ol>
    </div>
  );
}
