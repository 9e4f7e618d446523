import type { Problem } from '../../api/client';
import { Field, Input } from '../../ui/Controls';
import { numberColumn, textColumn } from '../../ui/grid/columns';
import { headOf, type LoomFile } from './document';

const fields = [
  textColumn('name', 'Name', 0),
  textColumn('revision', 'Revision', 0),
  numberColumn('supplyVolts', 'Supply (V)', 0),
  numberColumn('ambientC', 'Limits for (°C)', 0),
  numberColumn('weightKg', 'Weight with its box (kg)', 0),
];

/** What the loom is called, and what its limits are computed for. */
export function HeadTab({
  file,
  problems,
  onChange,
}: {
  file: LoomFile;
  problems: readonly Problem[];
  onChange: (file: LoomFile, together?: string) => void;
}) {
  const head = headOf(file);
  return (
    <div className="grid max-w-2xl gap-4 sm:grid-cols-2">
      {fields.map((f) => (
        <Field key={f.key} label={f.head} error={problems.find((p) => p.at === `/loom/${f.key}`)?.message}>
          <Input
            value={f.read(head)}
            onChange={(e) => onChange({ ...file, loom: f.write(head, e.target.value) }, `loom/${f.key}`)}
          />
        </Field>
      ))}
    </div>
  );
}
