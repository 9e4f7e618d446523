import type { Schemas } from '../../api/client';
import { IntakeOutcome } from './IntakeOutcome';
import { IntakeTable } from './IntakeTable';
import type { Said } from './said';

/** How a stranger's tables were understood, beside the loom that comes out of them; each part is said anew in place. */
export function IntakePreview({
  intake,
  said,
  palette,
  busy,
  onSay,
  onKeep,
  onColour,
}: {
  intake: Schemas['IntakeView'];
  said: Said;
  palette: readonly Schemas['PaletteView'][];
  busy: boolean;
  onSay: (said: Said) => void;
  onKeep: (table: Schemas['TablesView'], name: string) => void;
  onColour: (word: string, code: string) => void;
}) {
  return (
    <div
      className="grid grid-cols-[minmax(0,1fr)] items-start gap-5 lg:grid-cols-[minmax(0,2fr)_minmax(17rem,1fr)]"
      aria-busy={busy}
    >
      <div className="space-y-5">
        {intake.tables.map((table) => (
          <IntakeTable
            key={`${table.parts[0]?.sheet} ${table.columns.map((c) => c.key).join()}`}
            table={table}
            problems={intake.problems}
            said={said}
            onSay={onSay}
            onKeep={onKeep}
          />
        ))}
      </div>
      <IntakeOutcome intake={intake} said={said} palette={palette} onSay={onSay} onColour={onColour} />
    </div>
  );
}
