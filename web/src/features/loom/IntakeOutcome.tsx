import { useState } from 'react';
import type { Schemas } from '../../api/client';
import { Button, Field, Input } from '../../ui/Controls';
import { Notice } from '../../ui/Notice';
import { Scroll } from '../../ui/Scroll';
import { ChooseFace } from './ChooseFace';
import { withCell, type Said } from './said';

/** What comes out of a stranger's tables: connectors with their faces, what was taken for granted, what is asked, what is wrong. */
export function IntakeOutcome({
  intake,
  said,
  palette,
  onSay,
  onColour,
}: {
  intake: Schemas['IntakeView'];
  said: Said;
  palette: readonly Schemas['PaletteView'][];
  onSay: (said: Said) => void;
  /** Says what a word for a colour means, for this file and for each after it. */
  onColour: (word: string, code: string) => void;
}) {
  const [name, setName] = useState('');
  const [facing, setFacing] = useState<Schemas['FoundConnectorView'] | null>(null);
  const unseen = intake.connectors.filter((c) => !c.isConfirmed).length;
  return (
    <section aria-label="What comes out" className="space-y-3 border-2 border-edge bg-card p-4">
      <h3 className="text-xl font-bold">What comes out</h3>
      <p className="text-lg" role="status">
        {intake.wires === 0
          ? 'No wire yet.'
          : `${intake.connectors.length} connectors, ${intake.wires} wires${intake.splices.length > 0 ? `, ${intake.splices.length} splices` : ''}, ${intake.nets} circuits.`}
      </p>
      {intake.asks && (
        <form
          className="space-y-2"
          onSubmit={(e) => {
            e.preventDefault();
            onSay({ ...said, connector: name });
          }}
        >
          <Field label="Connector of these pins" hint="The file has the pins of one connector and does not say which.">
            <Input value={name} onChange={(e) => setName(e.target.value)} maxLength={40} required />
          </Field>
          <Button type="submit">Name it</Button>
        </form>
      )}
      {intake.unknownColours.map((word) => (
        <label key={word} className="block">
          <span className="font-bold">Which colour is ‘{word}’?</span>
          <select
            className="mt-1 min-h-11 w-full rounded-sm border-2 border-copper bg-card px-1 text-ink"
            value=""
            onChange={(e) => onColour(word, e.target.value)}
          >
            <option value="">choose; the shop keeps the answer</option>
            {palette.map((c) => (
              <option key={c.code} value={c.code}>
                {c.name} ({c.code})
              </option>
            ))}
          </select>
        </label>
      ))}
      {intake.connectors.length > 0 && (
        <div>
          <h4 className="font-bold">
            Connectors {unseen > 0 && <span className="font-normal text-soft">· {unseen} with a face to look at</span>}
          </h4>
          <Scroll label="All connectors" className="max-h-56">
            <ul aria-label="Connectors">
              {intake.connectors.map((c) => (
                <li key={c.ref} className="flex items-center justify-between gap-2 border-t border-line">
                  <span>
                    <b>{c.ref}</b>{' '}
                    <span className="text-soft">
                      {c.pins} {c.pins === 1 ? 'pin' : 'pins'}
                    </span>
                  </span>
                  <button
                    type="button"
                    className={`min-h-8 shrink-0 text-sm underline ${c.isConfirmed ? 'text-soft' : ''}`}
                    onClick={() => setFacing(c)}
                  >
                    {c.isConfirmed ? 'face confirmed' : 'look at its face'}
                    <span className="sr-only"> of {c.ref}</span>
                  </button>
                </li>
              ))}
            </ul>
          </Scroll>
        </div>
      )}
      {facing && (
        <ChooseFace
          connector={facing}
          onClose={() => setFacing(null)}
          onChoose={(family) => {
            setFacing(null);
            onSay({ ...said, faces: { ...said.faces, [facing.ref]: family } });
          }}
        />
      )}
      {intake.guessed.length > 0 && (
        <div>
          <h4 className="font-bold">Taken for granted</h4>
          <ul className="list-disc space-y-1 pl-5">
            {intake.guessed.map((g, i) => (
              <li key={i}>{g}</li>
            ))}
          </ul>
        </div>
      )}
      {intake.problems.length > 0 && (
        <Notice tone="mind">
          <p className="font-bold">
            {intake.problems.length === 1 ? '1 place to look at' : `${intake.problems.length} places to look at`}
          </p>
          <Scroll label="All places to look at" className="mt-1 max-h-72">
            <ol aria-label="Places to look at" className="space-y-1">
              {intake.problems.map((p, i) => (
                <li key={i} className="border-t border-line pt-1">
                  <span className="font-mono text-sm">
                    {[p.sheet, p.row > 0 ? `row ${p.row}` : '', p.column].filter(Boolean).join(', ') || 'whole file'}
                  </span>
                  <br />
                  {p.message}
                  {p.cell >= 0 && (
                    <input
                      aria-label={`${p.column} in row ${p.row} of ${p.sheet} should read`}
                      placeholder="should read …"
                      maxLength={200}
                      className="mt-1 block min-h-9 w-full rounded-sm border-2 border-edge bg-card px-2 text-ink"
                      onKeyDown={(e) => {
                        if (e.key !== 'Enter') return;
                        e.preventDefault();
                        onSay(withCell(said, p.sheet, p.row, p.cell, e.currentTarget.value));
                      }}
                    />
                  )}
                </li>
              ))}
            </ol>
          </Scroll>
        </Notice>
      )}
    </section>
  );
}
